import { findingName, HARM_NAMES, type ClipRecheck, type Recheck } from '@bevrin/contract';
import type { Mark } from './marks.js';
import { csv } from './csv.js';

const COLUMNS = [
  'clip',
  'repaired file',
  'version',
  'kind',
  'name',
  'unit',
  'before',
  'after',
  'expected',
  'pass',
  'fail',
  'verdict before',
  'verdict',
  'frame',
  'because',
  'let stand because',
] as const;

/** A row for each reading, each figure of harm, and whatever is new. Frames are those of the repaired file. */
export const recheckCsv = (of: ClipRecheck, recheck: Recheck): string => {
  const whose = { clip: recheck.original, 'repaired file': of.file, version: of.version };
  const said = (about: string) => ({
    because: recheck.reasons.find((r) => r.about === about)?.says ?? '',
    'let stand because': of.waived.find((w) => w.about === about)?.reason ?? '',
  });
  return csv(
    [
      ...recheck.readings.map((r) => ({
        ...whose,
        kind: 'reading',
        name: findingName(r),
        unit: r.unit,
        before: r.before,
        after: r.after,
        expected: r.expected,
        pass: r.pass,
        fail: r.fail,
        'verdict before': r.verdictBefore,
        verdict: r.verdictAfter,
        frame: null,
        ...said(`${r.defect}.${r.reading}`),
      })),
      ...recheck.harmJudged.map(({ name, value, pass, fail, verdict, at }) => {
        const [, words = name, unit = ''] = HARM_NAMES.find(([n]) => n === name) ?? [];
        return {
          ...whose,
          kind: 'harm',
          name: words,
          unit,
          after: value,
          pass,
          fail,
          verdict,
          frame: at?.frame ?? null,
          ...said(`harm ${name}`),
        };
      }),
      ...recheck.newFindings.map(({ what, verdict, because, frame }) => ({
        ...whose,
        kind: 'new',
        name: what,
        verdict,
        frame,
        ...said(`new ${what}`),
        because,
      })),
    ],
    COLUMNS,
  );
};

/** A mark on the repaired file for each reason that was not let stand. */
export const recheckMarks = (of: ClipRecheck, { reasons }: Recheck, frames: number): Mark[] =>
  reasons
    .filter((r) => !of.waived.some((w) => w.about === r.about))
    .map(({ weighs, says, frames: at }) => ({
      startFrame: Math.min(at?.startFrame ?? 0, frames - 1),
      endFrame: Math.min(at?.endFrame ?? frames - 1, frames - 1),
      name: weighs === 'fail' ? 'Recheck: goes back' : 'Recheck: remark',
      verdict: weighs,
      text: says,
    }));
