const LOOK_EVERY_MS = 20;

/** Waits until something holds; the test's own time limit ends it otherwise. */
export const until = async (holds: () => Promise<boolean> | boolean): Promise<void> => {
  while (!(await holds())) await new Promise((done) => setTimeout(done, LOOK_EVERY_MS));
};
