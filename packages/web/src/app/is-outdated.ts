/** Whether the server gives another program than the one that runs here: it was renewed while the tab was open. */
export async function isOutdated(): Promise<boolean> {
  const own = document.querySelector<HTMLScriptElement>('script[type="module"][src]')?.getAttribute('src');
  try {
    const answer = await fetch('/', { cache: 'no-store' });
    return answer.ok && own != null && !(await answer.text()).includes(own);
  } catch {
    return false; // the server does not answer: that is another fault
  }
}
