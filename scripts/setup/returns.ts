import { fork } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { DecidedStep, Step } from '@bevrin/contract';
import type { RunningServer } from '@bevrin/server';
import type { Repair } from './render-return.js';

type Done = Pick<Step, 'treatment' | 'settings'>;

/** Clips of the demo whose repair comes back, and how it was made: one as the plan says, and one that must go back. */
const RETURNS: readonly { readonly clip: string; readonly made: (plan: readonly DecidedStep[]) => Done[] }[] =
  [
    { clip: 'TL2_047_mudflats_dusk.mp4', made: (plan) => [...plan] },
    {
      clip: 'TL2_014_engine_shed_lamps.mp4',
      // Half of the swing is left, and everything was sharpened.
      made: (plan) => [
        ...plan.map((s) =>
          s.treatment === 'deflicker' ? { ...s, settings: { ...s.settings, strengthPct: 45 } } : s,
        ),
        { treatment: 'sharpen', settings: { radiusPx: 1.8, strengthPct: 250, thresholdPct: 0 } },
      ],
    },
  ];
const BY = 'R. Hale, repair';

/** Repairs two clips of the demo once they are measured, and returns them, unless they came back before. */
export const returnDemo = async (
  { store: { clips, plans, rechecks } }: RunningServer,
  batchId: string,
  home: string,
): Promise<void> => {
  const all = await clips.measuredIn(batchId);
  for (const { clip: name, made } of RETURNS) {
    const clip = all.find((c) => c.name === name);
    if (!clip?.measurement || clip.version.path === null) continue;
    if ((await rechecks.ofClip(clip.id)).length > 0) continue;
    const to = join(home, 'returned', name.replace(/\.\w+$/, '_v2.mkv'));
    const { decided } = await plans.planOf(clip.id);
    if (!existsSync(to))
      await repaired({
        path: clip.version.path,
        to,
        steps: made(decided.steps),
        measurement: clip.measurement,
      });
    await rechecks.add(clip.id, BY, to);
    console.log(`  ${name}: its repair has come back`);
  }
};

const repaired = (wanted: Repair): Promise<void> =>
  new Promise((resolve, reject) => {
    const child = fork(join('scripts', 'setup', 'render-return.ts'), [], { execArgv: ['--import', 'tsx'] });
    child.once('error', reject);
    child.once('exit', (code) =>
      code === 0 ? resolve() : reject(new Error(`${wanted.to} could not be made.`)),
    );
    child.send(wanted);
  });
