import type { ClipDetail } from '@bevrin/contract';

/** The first look comes again soon; the longer one waits, the less often one looks, that looking does not take the time of what is waited for. */
const [FIRST_MS, LONGEST_MS, SLOWER] = [15, 400, 1.25];

/** Waits until something holds; the test's own time limit ends it otherwise. */
export const until = async (holds: () => Promise<boolean> | boolean): Promise<void> => {
  for (let wait = FIRST_MS; !(await holds()); wait = Math.min(LONGEST_MS, wait * SLOWER))
    await new Promise((done) => setTimeout(done, wait));
};

/** Waits until a clip has been measured, or cannot be. @param look asks for it */
export const settledClip = async (look: () => Promise<ClipDetail>): Promise<ClipDetail> => {
  let clip: ClipDetail | undefined;
  await until(async () => {
    clip = await look();
    return clip.state === 'measured' || clip.state === 'failed';
  });
  return clip!;
};
