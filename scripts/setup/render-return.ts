import { mkdir, rename } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { Measurement, Step } from '@bevrin/contract';
import { checkedSettings, runnerOf, Study } from '@bevrin/core';
import { bytesOf, encodeFrames, openSource, probeClip, readPictures } from '@bevrin/media';

/** What is to be repaired, and how. */
export interface Repair {
  readonly path: string;
  readonly to: string;
  readonly steps: readonly Pick<Step, 'treatment' | 'settings'>[];
  readonly measurement: Measurement;
}

/** Repairs a clip of the demo with our own treatments, as a repair artist would send it back. Runs in a process of its own. */
const repair = async ({ path, to, steps, measurement }: Repair): Promise<void> => {
  const clip = await probeClip(await openSource(path));
  let pictures = await readPictures(clip, 0, clip.facts.frames);
  for (const { treatment, settings } of steps) {
    const runner = runnerOf(treatment);
    const known = Object.fromEntries(Object.entries(settings).filter(([name]) => name in runner.settings));
    const study = new Study({ clip: clip.facts, firstFrame: 0, pictures });
    const running = runner.begin(study, checkedSettings(runner.settings, known), measurement);
    pictures = pictures.map((_, i) => running.treat(i));
  }
  await mkdir(dirname(to), { recursive: true });
  const { width, height, frameRate } = clip.facts;
  const part = to.replace(/(\.\w+)$/, '.part$1');
  await encodeFrames(
    { width, height, frameRate, pixelFormat: clip.format.planar, colour: clip.facts },
    'ffv1',
    pictures.map(bytesOf),
    part,
  );
  // What bears the name is whole.
  await rename(part, to);
};

process.on('message', (wanted: Repair) => {
  void repair(wanted).then(() => {
    process.send?.('done');
    process.disconnect();
  });
});
