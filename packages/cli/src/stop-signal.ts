/** Aborts when somebody ends the command, so that what is under way is cleared away first. */
export function stopSignal(): AbortSignal {
  const controller = new AbortController();
  const stop = () => controller.abort();
  process.once('SIGINT', stop).once('SIGTERM', stop);
  return controller.signal;
}
