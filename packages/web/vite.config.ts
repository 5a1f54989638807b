import type { Route } from '@tonos/contract';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';

const server = `http://127.0.0.1:${process.env.TONOS_PORT ?? 4310}`;

/**
 * What every page needs is asked for by the document, and not once the program's first file has come and asks for it: its files, and their
 * styles, for which the program would wait.
 */
const program: Plugin = {
  name: 'program-beside-the-document',
  transformIndexHtml: {
    order: 'post',
    handler(html, { bundle = {} }) {
      const chunks = Object.values(bundle).filter((file) => file.type === 'chunk');
      const needed = new Set(chunks.filter(({ name }) => name === 'main'));
      for (const chunk of needed)
        for (const file of chunk.imports) needed.add(chunks.find(({ fileName }) => fileName === file)!);
      const inOrder = [...needed].reverse();
      const styles = new Set(inOrder.flatMap(({ viteMetadata }) => [...(viteMetadata?.importedCss ?? [])]));
      return [
        ...inOrder.map(({ fileName }) => ({ rel: 'modulepreload', file: fileName })),
        ...[...styles].map((file) => ({ rel: 'stylesheet', file })),
      ]
        .filter(({ file }) => !html.includes(file))
        .map(({ rel, file }) => ({ tag: 'link', attrs: { rel, href: `/${file}` }, injectTo: 'head' }));
    },
  },
};

/** A page knows where calls go. What they are made of the server checks: a page would build hundreds of schemas and use none. */
const calls: Plugin = {
  name: 'calls-without-schemas',
  apply: 'build',
  load: {
    filter: { id: /contract.src.routes\.ts$/ },
    async handler() {
      const { ROUTES } = await import('@tonos/contract');
      const plain = Object.entries<Route>(ROUTES).map(([name, { body, query, reply, ...route }]) => [name, route]);
      return `export const ROUTES = ${JSON.stringify(Object.fromEntries(plain))};`;
    },
  },
};

/** The network is heard by workers alone, and weighs as much as half of what most pages share. */
const network: Plugin = {
  name: 'no-network-in-pages',
  apply: 'build',
  load: {
    filter: { id: /neural-noise-reduction.rnnoise-wasm\.ts$/ },
    handler: () => `export const RNNOISE_WASM = '';`,
  },
};

const CHARTS = 'recharts|victory-vendor|d3-|decimal|es-toolkit';
const FORM_FIELDS = 'NumberInput|Slider|MultiSelect|TagsInput|Pill|PasswordInput|Radio|Textarea|NativeSelect';
const FORMS = `papaparse|react-number-format|@mantine.form|@mantine.core.esm.components.(${FORM_FIELDS})`;

export default defineConfig({
  plugins: [react(), program, calls, network],
  resolve: { conditions: ['source', 'module', 'browser', 'development|production'] },
  build: {
    chunkSizeWarningLimit: 900,
    // every browser that runs the program knows preloads
    modulePreload: { polyfill: false },
    // what most pages share comes in few files: left to itself, each set of pages that shares something gets files of its own, and a page
    // waits for fifty answers before its first line
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            // what the first file of all needs comes with none of the others
            { name: 'start', test: /preload-helper|app.(pages|first-)|api.(early|first-)/, priority: 2 },
            // where it makes an error in advance, a browser that is looked into reads its whole file once more to tell where
            { name: 'store', test: /node_modules.(@reduxjs|immer|redux|react-redux|reselect)/, priority: 2 },
            // charts are large, and on few pages; what forms are made of comes once one is opened
            {
              name: 'libraries',
              test: new RegExp(`node_modules.(?!${CHARTS}|${FORMS})`),
              minShareCount: 2,
              priority: 1,
            },
            { name: 'forms', test: new RegExp(`node_modules.(${FORMS})`), minShareCount: 2 },
            {
              name: 'shared',
              // not those with forms in them: every page would wait for these
              test: /packages.web.src.(?!.*(LetterFields|NoteThread|PlaceForm|TimeField))(api|app|forecast|listening|modules|outside|people|plots.(draw-wave|Ruler|Wave)|thumb-index|ui|uploads)/,
              minShareCount: 2,
            },
          ],
        },
      },
    },
  },
  // modules shared with workers are modules there too
  worker: { format: 'es' },
  server: {
    // as the real server says it: pages that share memory with their sound threads must be isolated
    headers: { 'Cross-Origin-Opener-Policy': 'same-origin', 'Cross-Origin-Embedder-Policy': 'require-corp' },
    proxy: {
      '/api': {
        target: server,
        changeOrigin: true,
        // the server takes calls from its own pages only
        configure: (proxy) => proxy.on('proxyReq', (request) => request.setHeader('origin', server)),
      },
    },
  },
});
