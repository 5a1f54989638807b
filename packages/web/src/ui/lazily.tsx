import { type ComponentType, lazy, Suspense } from 'react';
import { notCome } from './not-come.ts';

const waiting: (() => Promise<unknown>)[] = [];
let isPageDrawn = false;

/** Where it fails, who draws it asks again and is told. */
const prepare = (load: () => Promise<unknown>) => void load().catch(() => {});

/**
 * A component whose program a page does not wait for: what lies behind its first frame, or behind a button. It comes once it is drawn, or
 * behind the page: before somebody presses the button, and before another version of the program takes its place. Nothing stands there
 * until then.
 */
export function lazily<Props extends object>(load: () => Promise<ComponentType<Props>>): ComponentType<Props> {
  const Late = lazy(async () => ({ default: await load().catch(notCome) })) as unknown as ComponentType<Props>;
  if (isPageDrawn) prepare(load);
  else waiting.push(load);
  return (props) => (
    <Suspense>
      <Late {...props} />
    </Suspense>
  );
}

/** The page is there: what it did not wait for comes now. */
export function loadWhatIsLeft(): void {
  isPageDrawn = true;
  for (const load of waiting.splice(0)) prepare(load);
}
