import * as z from 'zod';
import { moduleQuery, processorModule } from './module.ts';
import { newOuting, outing, outings } from './outside.ts';
import { engineer, listener } from './route.ts';

/** What comes from outside: modules of the library, and sound that goes out to other programs and comes back. */
export const OUTSIDE_ROUTES = {
  modules: listener.get('/api/modules', 'The modules of the library, with who uses them.', {
    reply: z.array(processorModule),
  }),
  addModule: engineer.post('/api/modules', 'Bring a WebAssembly module of at most 8 MB into the library.', {
    takes: 'application/wasm',
    costly: true,
    query: moduleQuery,
    reply: processorModule,
  }),
  moduleFile: listener.get('/api/modules/:sha256/file', 'A module itself, by its content.', {
    streams: 'application/wasm',
  }),
  removeModule: engineer.remove('/api/modules/:id', 'Move a module that nobody uses to the trash.'),

  outings: listener.get('/api/outside', 'What went out to other programs, and what came back of it.', {
    reply: outings,
  }),
  sendOut: engineer.post('/api/outside', 'Send recordings out, as they came or as they are after a step of a chain.', {
    costly: true,
    body: newOuting,
    reply: z.array(outing),
  }),
  outingFile: engineer.get('/api/outside/:id/file', 'The file that went out.', { streams: 'audio/wav' }),
  handInOuting: engineer.put('/api/outside/:id/back', 'Hand in the file that came back.', {
    costly: true,
    takes: 'audio/wav',
    reply: outing,
  }),
  takeOutOuting: engineer.post('/api/outside/:id/take-out', 'What was laid in goes; what stood there before is back.', {
    reply: outing,
    status: 200,
  }),
  forgetOuting: engineer.remove('/api/outside/:id', 'Wait for it no more. What was laid in stays.'),
} as const;
