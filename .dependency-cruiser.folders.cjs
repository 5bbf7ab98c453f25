/** Folders form no circle either (docs/decisions/0001-rooms.md). Tests may look into any room and are left out. */
const { options } = require('./.dependency-cruiser.cjs');

module.exports = {
  forbidden: [
    {
      name: 'no-circles-of-folders',
      comment: 'where two rooms need each other, the thought they share has a room of its own',
      severity: 'error',
      scope: 'folder',
      from: {},
      to: { circular: true },
    },
  ],
  options: { ...options, exclude: { path: '(dist|\\.astro|/test)/|\\.test\\.ts$' } },
};
