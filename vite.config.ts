import { readFileSync } from 'node:fs';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import license, { type Dependency } from 'rollup-plugin-license';
import { defineConfig, type Plugin } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

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

/** Every worker's own file is built into this folder, so that none is forgotten. */
const WORKERS = 'workers';

const securityPolicy: Plugin = {
  name: 'content-security-policy',
  /** Where the pages are served by others, the page brings its policy along. What frames it may stand in can only be said by a server. */
  transformIndexHtml: {
    order: 'post',
    handler: (html, { server }) =>
      server
        ? html
        : {
            html,
            tags: [
              {
                tag: 'meta',
                injectTo: 'head-prepend',
                attrs: { 'http-equiv': 'Content-Security-Policy', content: PAGE.replace("; frame-ancestors 'none'", '') },
              },
            ],
          },
  },
  configurePreviewServer(server) {
    server.middlewares.use((req, res, next) => {
      res.setHeader('Content-Security-Policy', req.url?.startsWith(`/${WORKERS}/`) ? WORKER : PAGE);
      res.setHeader('X-Content-Type-Options', 'nosniff');
      next();
    });
  },
};

/** Everything that is bundled, by its name, with the text of its licence; the workers' bundles are made before the page's. */
const bundled = new Map<string, string>();
const noted = (name: string, terms: string | null, text: string | null): void => {
  bundled.set(name, `${name}\n${terms ?? 'see the text'}\n\n${(text ?? 'The package holds no text of its licence.').trim()}\n`);
};
const gather = (): Plugin =>
  license({
    thirdParty: {
      includePrivate: false,
      output: (all: Dependency[]) => {
        for (const d of all) noted(`${d.name} ${d.version}`, d.license, d.licenseText);
      },
    },
  }) as Plugin;
/** What comes in another way than by the page's and the workers' own modules: by the style sheet, as letters that were written down, and by the worker that keeps the application. */
const BESIDE = [
  '@fontsource-variable/hanken-grotesk',
  '@fontsource-variable/red-hat-mono',
  '@fontsource/bitter',
  'workbox-core',
  'workbox-precaching',
  'workbox-routing',
  'workbox-strategies',
] as const;
const licences: Plugin = {
  name: 'licences',
  apply: 'build',
  generateBundle() {
    for (const name of BESIDE) {
      const { version, license: terms } = JSON.parse(readFileSync(`node_modules/${name}/package.json`, 'utf8')) as Record<string, string>;
      noted(`${name} ${version}`, terms ?? null, readFileSync(`node_modules/${name}/LICENSE`, 'utf8'));
    }
    const source = [...bundled].toSorted(([a], [b]) => a.localeCompare(b)).map(([, text]) => text);
    this.emitFile({
      type: 'asset',
      fileName: 'licences.txt',
      source: [readFileSync('LICENSE', 'utf8'), ...source].join(`\n${'—'.repeat(60)}\n\n`),
    });
  },
};

export default defineConfig({
  plugins: [
    react(),
    tailwindcss(),
    securityPolicy,
    gather(),
    licences,
    VitePWA({
      strategies: 'injectManifest',
      srcDir: 'src/app',
      filename: 'offline-worker.ts',
      injectRegister: false,
      // The kernel is the largest file.
      injectManifest: { globPatterns: ['**/*.{js,css,html,svg,wasm,woff2,txt}'], maximumFileSizeToCacheInBytes: 40e6 },
      manifest: {
        name: 'Ivory Lathe',
        short_name: 'Ivory Lathe',
        description: 'Freeform and revolved product bodies, measured while you build them.',
        display: 'standalone',
        start_url: '/',
        theme_color: '#eeefec',
        background_color: '#eeefec',
        icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml' }],
      },
    }),
  ],
  worker: { format: 'es', plugins: () => [gather()], rollupOptions: { output: { entryFileNames: `${WORKERS}/[name]-[hash].js` } } },
  build: { target: 'es2022', chunkSizeWarningLimit: 1600, assetsInlineLimit: 0 },
  optimizeDeps: { exclude: ['replicad-opencascadejs', 'manifold-3d'] },
  server: { port: 5173 },
  preview: { port: 4173 },
});
