import { basename, join } from 'node:path';
import { printable, type Trial } from '@bevrin/contract';
import { choose, findingsOf, planFor, targetsFrom, untoldBy } from '@bevrin/core';
import { measureClip } from '../measure-clip.js';
import { probeClip } from '../probe.js';
import { openSource } from '../source.js';
import { makeRuns } from './make-runs.js';
import { checkOrder, nothingToTry, rangeOf, refuse, stepsToTry, windowOf, type TrialOrder } from './order.js';
import { bytesOf } from './pictures.js';
import { firstPicture, framesFor } from './run.js';

/** The file of the frame that is shown before a run is made. */
export const FIRST_PICTURE = 'first-picture.mkv';

/** Shares of a trial that are done when the clip is measured, and when its runs begin. */
const MEASURED_AT = 0.05;
const BEGUN_AT = 0.12;

/**
 * Tries settings of a treatment, or a plan as a whole, on some frames of a clip: runs it, measures the readings before and
 * after and what it harmed, and says which setting it would take.
 * @throws {TrialUnusable} {@link SettingUnusable} {@link TreatmentUnusable} where that cannot be done; {@link ClipUnreadable};
 * the signal's reason
 */
export const tryTreatment = async (path: string, order: TrialOrder): Promise<Trial> => {
  const clip = await probeClip(await openSource(path));
  const { signal, progress = () => undefined, spec } = order;
  refuse(clip);
  checkOrder(order, clip);
  progress(0, 'measuring the clip');
  const measurement = order.measured ?? (await measureClip(path, { signal }));
  const findings = findingsOf(measurement, spec);
  const { steps } = planFor(findings, measurement);
  const runs = stepsToTry(order, steps);
  const clipName = printable(basename(path));
  if (runs.length === 0)
    return {
      schema: 'bevrin.trial/1',
      clip: clipName,
      range: order.range ?? { startFrame: 0, endFrame: clip.facts.frames - 1 },
      runs: [],
      choice: { run: null, because: nothingToTry(order.treatment, steps) },
    };
  const range = rangeOf(order, clip, measurement, runs[0][0].runner);
  progress(MEASURED_AT, 'measuring its frames');
  const frames = await framesFor(clip, range, Math.max(...runs.map((run) => windowOf(run))), signal);
  if (order.onFirst && order.out !== undefined) {
    const ground = { clip, frames, measurement, spec, viewing: order.viewing };
    const { run, frame } = await firstPicture(runs[0], range, join(order.out, FIRST_PICTURE), ground);
    order.onFirst(run, { startFrame: frame, endFrame: frame });
  }
  const { out } = order;
  const { runs: tried, before } = await makeRuns(
    runs.map((run, i) => ({ run, file: out === undefined ? null : join(out, `run-${i + 1}.mkv`) })),
    { clip, frames, measurement, spec, viewing: order.viewing },
    {
      measureBefore: async () => {
        const { study, from, to } = frames;
        const stored = study.sequence.pictures.slice(from, to).map(bytesOf);
        return findingsOf(await measureClip(path, { overrides: { range }, signal, frames: stored }), spec);
      },
      threads: order.threads ?? 1,
      signal,
      tell: (share, done) =>
        progress(
          BEGUN_AT + (1 - BEGUN_AT) * share,
          `setting ${Math.min(runs.length, done + 1)} of ${runs.length}`,
        ),
      onRun: (run) => order.onRun?.(run, range),
    },
  );
  return {
    schema: 'bevrin.trial/1',
    clip: clipName,
    range,
    runs: tried,
    choice: choose(tried, targetsFrom(before), untoldBy(tried, findings)),
  };
};
