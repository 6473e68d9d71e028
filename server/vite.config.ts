import { defineConfig } from 'vite';

// The server and the command as plain JavaScript, our own core within it, so that running them needs no transpiler.
export default defineConfig({
  root: import.meta.dirname,
  ssr: { noExternal: [/^@dusky-mason\//] },
  build: {
    ssr: true,
    target: 'node20',
    outDir: 'dist',
    emptyOutDir: true,
    rollupOptions: { input: { main: 'src/main.ts', mason: 'src/mason.ts' } },
  },
});
