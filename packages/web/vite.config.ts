import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const server = `http://127.0.0.1:${process.env.TONOS_PORT ?? 4310}`;

export default defineConfig({
  plugins: [react()],
  resolve: { conditions: ['source', 'module', 'browser', 'development|production'] },
  build: { chunkSizeWarningLimit: 900 },
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
