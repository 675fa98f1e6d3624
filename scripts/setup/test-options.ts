const NO_REQUIRE = '--no-experimental-require-module';

/**
 * Options of Node.js for processes that tests run in. Where it can `require` modules, Mocha does, and TypeScript is then turned into
 * code in which each use of what another module exports is a call: whatever computes takes a quarter longer.
 */
export const TEST_OPTIONS = [
  '--import tsx',
  ...(process.allowedNodeEnvironmentFlags.has(NO_REQUIRE) ? [NO_REQUIRE] : []),
].join(' ');
