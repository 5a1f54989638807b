import type { ComponentProps } from 'react';
import classes from './RowControls.module.css';

const withClass = (own: string, given: string | undefined) => (given ? `${own} ${given}` : own);

/*
 * What rows of long tables are acted on by. A table draws dozens of rows for each frame while it is scrolled: made of library components,
 * these took half of that time.
 */

/** Its name is in `aria-label`, its picture in it. */
export const RowButton = ({ className, ...rest }: ComponentProps<'button'>) => (
  <button type="button" className={withClass(classes.button, className)} {...rest} />
);

/** Looks like `RowButton`, and leads somewhere. */
export const RowLink = ({ className, ...rest }: ComponentProps<'a'>) => (
  <a className={withClass(classes.button, className)} {...rest} />
);

/** Chooses a row. */
export const RowCheck = (props: Omit<ComponentProps<'input'>, 'type' | 'className'>) => (
  <input type="checkbox" className={classes.check} {...props} />
);
