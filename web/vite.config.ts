import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vitest/config';

export default defineConfig(({ mode }) => ({
  plugins: [tailwindcss(), sveltekit()],
  // Under test the components run as in a browser, not as on a server.
  resolve: mode === 'test' ? { conditions: ['browser'] } : {},
  server: { proxy: { '/api': 'http://127.0.0.1:8000' } },
  test: {
    environment: 'jsdom',
    css: true,
    include: ['src/**/*.test.ts'],
  },
}));
