import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';

/** Writes the service worker with the list of what this build holds. */
function serviceWorker(): Plugin {
  return {
    name: 'nibrel-service-worker',
    apply: 'build',
    generateBundle(_, bundle) {
      // What looks at photographs is ten megabytes: it is fetched when it is asked for, and not kept beforehand.
      const built = Object.keys(bundle).filter((name) => name.startsWith('assets/') && !name.includes('vision.worker'));
      const files = ['/', '/mark.svg', '/manifest.webmanifest', ...built.map((name) => `/${name}`)];
      const version = `nibrel-${createHash('sha256').update(files.join()).digest('hex').slice(0, 12)}`;
      const source = readFileSync(fileURLToPath(new URL('web/sw.js', import.meta.url)), 'utf8')
        .replace('__VERSION__', version)
        .replace("['__FILES__']", JSON.stringify(files));
      this.emitFile({ type: 'asset', fileName: 'sw.js', source });
    },
  };
}

export default defineConfig({
  root: 'web',
  plugins: [react(), tailwindcss(), serviceWorker()],
  build: {
    outDir: '../dist/web',
    emptyOutDir: true,
    target: 'es2022',
    reportCompressedSize: true,
    assetsInlineLimit: 0,
  },
  server: {
    host: '127.0.0.1',
    port: 4311,
    strictPort: true,
    // The host stays that of the page, so that a request is seen to come from it.
    proxy: { '/api': { target: 'http://127.0.0.1:4310', changeOrigin: false } },
  },
});
