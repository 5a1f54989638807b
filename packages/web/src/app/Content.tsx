import { VisuallyHidden } from '@mantine/core';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { useLocation } from 'react-router';
import classes from './Shell.module.css';

/** A page has its name when its first answers are there. */
const NAMED_MS = 500;

/** P22: where another page is gone to, the keys go on in it, and a screen reader is told its name. */
export function Content({ children }: { children: ReactNode }) {
  const { pathname } = useLocation();
  const content = useRef<HTMLDivElement>(null);
  const came = useRef(pathname);
  const [word, setWord] = useState('');
  useEffect(() => {
    if (came.current === pathname) return;
    came.current = pathname;
    // whoever is typing there already is left alone
    if (!content.current?.contains(document.activeElement)) content.current?.focus({ preventScroll: true });
    const timer = setTimeout(() => setWord(document.title), NAMED_MS);
    return () => clearTimeout(timer);
  }, [pathname]);
  return (
    <div id="content" ref={content} tabIndex={-1} className={classes.content}>
      <VisuallyHidden role="status">{word}</VisuallyHidden>
      {children}
    </div>
  );
}
