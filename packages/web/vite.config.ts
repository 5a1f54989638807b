import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';

const server = `http://127.0.0.1:${process.env.TONOS_PORT ?? 4310}`;

/** What every page needs is asked for by the document, and not once the program's first file has come and asks for it. */
const program: Plugin = {
  name: 'program-beside-the-document',
  transformIndexHtml: {
    order: 'post',
    handler(html, { bundle = {} }) {
      const chunks = Object.values(bundle).filter((file) => file.type === 'chunk');
      const needed = new Set(chunks.filter(({ name }) => name === 'main').map(({ fileName }) => fileName));
      for (const fileName of needed)
        for (const imported of chunks.find((one) => one.fileName === fileName)!.imports) needed.add(imported);
      return [...needed]
        .filter((fileName) => !html.includes(fileName))
        .reverse()
        .map((fileName) => ({ tag: 'link', attrs: { rel: 'modulepreload', href: `/${fileName}` }, injectTo: 'head' }));
    },
  },
};

export default defineConfig({
  plugins: [react(), program],
  resolve: { conditions: ['source', 'module', 'browser', 'development|production'] },
  build: {
    chunkSizeWarningLimit: 900,
    // what most pages share comes in few files: left to itself, each set of pages that shares something gets files of its own, and a page
    // waits for fifty answers before its first line
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            // what the first file of all needs comes with none of the others
            { name: 'start', test: /preload-helper|app.(pages|first-)|api.(early|first-)/, priority: 1 },
            // charts are large, and on few pages
            {
              name: 'libraries',
              test: /node_modules.(?!recharts|victory-vendor|d3-|decimal|es-toolkit)/,
              minShareCount: 2,
            },
            {
              name: 'shared',
              test: /packages.web.src.(adjusting|api|app|listening|modules|people|plots.(draw-wave|Wave)|thumb-index|ui|uploads)/,
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
