import { resolve } from 'node:path';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const page = (name: string): string => resolve(import.meta.dirname, name);

// The console, and the small public pages.
export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: resolve(import.meta.dirname, '../../dist/web'),
    emptyOutDir: true,
    chunkSizeWarningLimit: 1200,
    rolldownOptions: {
      input: Object.fromEntries(
        ['index', 'watch', 'embed', 'channel', 'join'].map((name) => [name, page(`${name}.html`)]),
      ),
    },
  },
});
