import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const server = `http://127.0.0.1:${process.env.TONOS_PORT ?? 4310}`;

export default defineConfig({
  plugins: [react()],
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
            { name: 'start', test: /preload-helper|app.pages/, priority: 1 },
            // charts are large, and on few pages
            {
              name: 'libraries',
              test: /node_modules.(?!recharts|victory-vendor|d3-|decimal|es-toolkit)/,
              minShareCount: 3,
            },
            { name: 'shared', test: /packages.web.src.(adjusting|api|app|people|thumb-index|ui)/, minShareCount: 3 },
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
