/** `npm run bench`: against peers; `npm run bench -- machines`: machines that work along; `-- modules`: modules, and sound from outside. */
const [part, items] = process.argv.slice(2);
if (part === 'machines') {
  const { buildServer, machines } = await import('./machines.ts');
  buildServer();
  await machines(Number(items) || 1000);
} else if (part === 'modules') {
  const { modules } = await import('./modules.ts');
  await modules();
} else await import('./peers.ts');

export {};
