import { Title } from '@mantine/core';
import { useDocumentTitle } from '@mantine/hooks';
import type { ReactNode } from 'react';
import classes from './Page.module.css';

interface PageProps {
  title: string;
  /** Beside the heading. */
  picture?: ReactNode;
  /** One quiet line under the heading. */
  about?: ReactNode;
  /** The primary act, and at most two others. */
  acts?: ReactNode;
  children: ReactNode;
}

/** A page is a document: heading, acts, and what answers the page's question. */
export function Page({ title, picture, about, acts, children }: PageProps) {
  useDocumentTitle(`${title} \u00b7 Tonos`);
  return (
    <main className={classes.page}>
      <header className={classes.head}>
        <div className={classes.named}>
          {picture}
          <div>
            <Title order={1}>{title}</Title>
            <div className={classes.about}>{about ?? '\u00a0'}</div>
          </div>
        </div>
        <div className={classes.acts}>{acts}</div>
      </header>
      {children}
    </main>
  );
}
