import adapter from '@sveltejs/adapter-static';

/** @type {import('@sveltejs/kit').Config} */
export default {
  compilerOptions: {
    runes: ({ filename }) => (filename.includes('node_modules') ? undefined : true),
  },
  kit: {
    adapter: adapter({ fallback: 'index.html', pages: 'build', assets: 'build' }),
  },
};
