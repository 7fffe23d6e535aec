import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

export default defineConfig({
  root: 'web',
  plugins: [react(), tailwindcss()],
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
    proxy: { '/api': { target: 'http://127.0.0.1:4310', changeOrigin: true } },
  },
});
