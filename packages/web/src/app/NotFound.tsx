import { Link } from 'react-router';
import { Page } from '../ui/Page.tsx';

export function NotFound() {
  return (
    <Page title="Nothing here">
      <p className="empty">
        This address belongs to no page. <Link to="/titles">Go to the titles.</Link>
      </p>
    </Page>
  );
}
