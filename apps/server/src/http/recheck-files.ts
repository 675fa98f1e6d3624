import type { Response } from 'express';
import type { Batch, ClipRecheck, Recheck } from '@bevrin/contract';
import { openSource, probeClip } from '@bevrin/media';
import type { AlignedFrames } from '../frames/aligned-frames.js';
import type { FrameStore } from '../frames/frames.js';
import { printedRecheck } from '../frames/recheck-evidence.js';
import { edlWith } from '../reports/edl.js';
import { recheckCsv, recheckMarks } from '../reports/recheck-out.js';
import { recheckSheet } from '../reports/sheet.js';
import { timelineWith, type MarkedClip } from '../reports/timeline.js';
import { Problem } from './problem.js';

/** A repaired file that was rechecked, with what its files are made of. */
export interface Leaving {
  readonly of: ClipRecheck;
  readonly recheck: Recheck;
  /** Where the repaired file lies. */
  readonly path: string;
  readonly batch: Batch;
  readonly frames: FrameStore;
  readonly aligned: AlignedFrames;
}

const marked = async ({ of, recheck, path }: Leaving): Promise<MarkedClip & { durationSec: number }> => {
  const { facts } = await probeClip(await openSource(path));
  return {
    file: of.file,
    frames: facts.frames,
    frameRate: facts.frameRate,
    durationSec: facts.durationSec,
    path,
    marks: recheckMarks(of, recheck, facts.frames),
    metadata: { original: recheck.original, spec: recheck.spec, verdict: of.verdict },
  };
};

/** What leaves the house with a repaired file, by the name of its file. */
const FILES: Record<string, (leaving: Leaving, to: Response) => void | Promise<void>> = {
  'recheck.json': ({ recheck }, to) => void to.json(recheck),
  'recheck.csv': ({ of, recheck }, to) => void to.type('csv').send(recheckCsv(of, recheck)),
  'markers.edl': async (leaving, to) =>
    void to.type('text/plain').send(edlWith(leaving.of.file, [await marked(leaving)])),
  'timeline.otio': async (leaving, to) => {
    const timeline = timelineWith(leaving.of.file, { schema: leaving.recheck.schema }, [
      await marked(leaving),
    ]);
    to.type('json').send(JSON.stringify(timeline, null, 2));
  },
  'sheet.pdf': async ({ of, batch: { name, production }, frames, aligned }, to) => {
    const printed = await printedRecheck(of, frames, aligned);
    to.type('pdf');
    recheckSheet({ batch: name, production }, printed!).pipe(to);
  },
};

/** @throws {Problem} where there is no file of that name */
export const sendRecheckFile = async (name: string, leaving: Leaving, to: Response): Promise<void> => {
  const write = FILES[name];
  if (!write)
    throw new Problem(404, `There is no file "${name}". Choose one of ${Object.keys(FILES).join(', ')}.`);
  const { recheck, of } = leaving;
  // A sheet is looked at; everything else is kept.
  if (name === 'sheet.pdf') to.set('content-disposition', 'inline');
  else to.attachment(`${recheck.original} version ${of.version} ${name}`);
  await write(leaving, to);
};
