import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import vue from '@vitejs/plugin-vue';
import { defineConfig } from 'vite';

const here = dirname(fileURLToPath(import.meta.url));

export default defineConfig({
  root: here,
  plugins: [vue()],
  build: { outDir: join(here, '../../dist/web'), emptyOutDir: true, chunkSizeWarningLimit: 6000, target: 'es2022' },
  server: { port: 5173, strictPort: true, proxy: { '/api': 'http://localhost:4670' } },
});
