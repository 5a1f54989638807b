import { VisuallyHidden } from '@mantine/core';

interface LedgerHeadProps {
  /** What stands over each column; nothing over one that is not shown. */
  columns: readonly (string | false)[];
  /** Whether a column of acts comes last. */
  acts?: boolean;
}

/** The head of a ledger that is only read. */
export function LedgerHead({ columns, acts = false }: LedgerHeadProps) {
  return (
    <thead>
      <tr>
        {columns.map((name) => name && <th key={name}>{name}</th>)}
        {acts && (
          <th>
            <VisuallyHidden>Acts</VisuallyHidden>
          </th>
        )}
      </tr>
    </thead>
  );
}
