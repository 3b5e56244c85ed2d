import { resolve } from 'node:path';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const page = (name: string): string => resolve(import.meta.dirname, name);

// Three entries: the console, and the two small public ones that share the player.
export default defineConfig({
  plugins: [react(), tailwindcss()],
  build: {
    outDir: resolve(import.meta.dirname, '../../dist/web'),
    emptyOutDir: true,
    chunkSizeWarningLimit: 1200,
    rolldownOptions: {
      input: { index: page('index.html'), watch: page('watch.html'), embed: page('embed.html') },
    },
  },
});
