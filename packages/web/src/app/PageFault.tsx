import { Button, Group } from '@mantine/core';
import { useEffect, useState } from 'react';
import { useRouteError } from 'react-router';
import { Page } from '../ui/Page.tsx';
import { isOutdated } from './is-outdated.ts';

const RELOAD_AFTER_MS = 3000;

/** In the place of a page that failed: what happened, and the way on. A page of a version that is gone is loaded anew. */
export function PageFault() {
  const error = useRouteError();
  const [outdated, setOutdated] = useState<boolean>();
  useEffect(() => {
    console.error(error);
    void isOutdated().then(setOutdated);
  }, [error]);
  useEffect(() => {
    if (!outdated) return;
    const timer = setTimeout(() => location.reload(), RELOAD_AFTER_MS);
    return () => clearTimeout(timer);
  }, [outdated]);
  if (outdated === undefined) return null;
  return (
    <Page title={outdated ? 'A new version is there' : 'This page failed'}>
      <div className="empty" role="alert">
        <p>
          {outdated
            ? 'Tonos was renewed while this tab was open. It is loaded anew in a moment; what was saved is there.'
            : `What was saved is there. ${error instanceof Error ? error.message : 'It could not be shown.'}`}
        </p>
        <Group justify="center">
          <Button onClick={() => location.reload()}>{outdated ? 'Load it now' : 'Load the page again'}</Button>
        </Group>
      </div>
    </Page>
  );
}
