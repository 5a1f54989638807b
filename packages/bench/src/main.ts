/** `npm run bench`: against peers; `npm run bench -- machines`: machines that work along. */
const [part, items] = process.argv.slice(2);
if (part === 'machines') {
  const { buildServer, machines } = await import('./machines.ts');
  buildServer();
  await machines(Number(items) || 1000);
} else await import('./peers.ts');

export {};
