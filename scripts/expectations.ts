import { readdirSync, statSync } from 'node:fs';
import { basename, join } from 'node:path';
import { isExpected } from '@bevrin/contract';
import { findingsOf, planFor, RUNNERS } from '@bevrin/core';
import { measureClip, tryTreatment } from '@bevrin/media';
import { findSpec, DEFAULT_SPEC } from '@bevrin/specs';

/**
 * Sets what plans expect against what trials of their settings find: `npm run expectations -- FOLDER|CLIP…`. For each step
 * what is left, as a share of what was there: expected, found, and how far apart these are, in points.
 */
const MOST_FRAMES = 12;

const clipsIn = (path: string): string[] =>
  statSync(path).isDirectory()
    ? readdirSync(path)
        .filter((name) => /\.(mov|mp4|mkv|mpg|mxf|avi|webm|y4m)$/.test(name))
        .map((name) => join(path, name))
    : [path];

const spec = await findSpec(DEFAULT_SPEC);
const apart: number[] = [];
const line = (...cells: (string | number)[]): void =>
  void process.stdout.write(`${cells.map((c) => String(c).padEnd(18)).join('')}\n`);
line('clip', '', 'treatment', 'reading', 'expected left', 'found left', 'apart');
for (const path of process.argv.slice(2).flatMap(clipsIn)) {
  const measured = await measureClip(path);
  for (const step of planFor(findingsOf(measured, spec), measured).steps) {
    if (!RUNNERS[step.treatment]) continue;
    const { treatment, settings, expect } = step;
    try {
      const order = { treatment, settings, measured, spec, mostFrames: MOST_FRAMES };
      const { runs } = await tryTreatment(path, order);
      const found = runs[0]?.gain.find((g) => isExpected(step, g));
      if (!found || found.from === 0) {
        line(basename(path).slice(0, 34), '', treatment, expect.reading, '', 'not shown by the frames');
        continue;
      }
      const [wanted, left] = [expect.to / expect.from, found.to / found.from];
      apart.push(100 * Math.abs(wanted - left));
      line(
        basename(path).slice(0, 34).padEnd(36),
        treatment,
        expect.reading,
        `${Math.round(100 * wanted)} %`,
        `${Math.round(100 * left)} %`,
        Math.round(100 * Math.abs(wanted - left)),
      );
    } catch (error) {
      line(basename(path).slice(0, 34), '', treatment, (error as Error).message.slice(0, 80));
    }
  }
}
apart.sort((a, b) => a - b);
const median = apart.length > 0 ? apart[apart.length >> 1] : NaN;
line(`${apart.length} steps, median ${Math.round(10 * median) / 10} points apart`);
process.exit(0);
