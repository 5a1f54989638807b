import { VisuallyHidden } from '@mantine/core';

interface ReadersTableProps {
  caption: string;
  heads: readonly string[];
  rows: readonly (readonly string[])[];
}

/** What a chart shows, for those who do not see it. */
export function ReadersTable({ caption, heads, rows }: ReadersTableProps) {
  return (
    <VisuallyHidden>
      <table>
        <caption>{caption}</caption>
        <thead>
          <tr>
            {heads.map((head) => (
              <th key={head} scope="col">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row[0]}>
              {row.map((cell, i) => (
                <td key={heads[i]}>{cell}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </VisuallyHidden>
  );
}
