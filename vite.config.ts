import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';

const base = [
  "default-src 'self'",
  "img-src 'self' data: blob:",
  "style-src 'self' 'unsafe-inline'",
  "font-src 'self' data:",
  "connect-src 'self' data: blob:",
  "worker-src 'self' blob:",
  "object-src 'none'",
  "base-uri 'none'",
  "frame-ancestors 'none'",
];
/** The page itself runs no generated code. */
const PAGE = [...base, "script-src 'self'"].join('; ');
/** The kernel's bindings build their callers at run time, which only the worker's own policy allows. */
const WORKER = [...base, "script-src 'self' 'unsafe-eval' 'wasm-unsafe-eval'"].join('; ');

const securityPolicy: Plugin = {
  name: 'content-security-policy',
  configurePreviewServer(server) {
    server.middlewares.use((req, res, next) => {
      res.setHeader('Content-Security-Policy', /\/assets\/((import|range)-)?worker-[^/]*\.js/.test(req.url ?? '') ? WORKER : PAGE);
      res.setHeader('X-Content-Type-Options', 'nosniff');
      next();
    });
  },
};

export default defineConfig({
  plugins: [react(), tailwindcss(), securityPolicy],
  worker: { format: 'es' },
  build: { target: 'es2022', chunkSizeWarningLimit: 1600, assetsInlineLimit: 0 },
  optimizeDeps: { exclude: ['replicad-opencascadejs', 'manifold-3d'] },
  server: { port: 5173 },
  preview: { port: 4173 },
});
