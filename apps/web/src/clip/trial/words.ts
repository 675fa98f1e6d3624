import type { ClipTrial, HarmValues, Step, Trial, TrialRun } from '@bevrin/contract';
import { HARM_NAMES, TREATMENT_NAMES, type TriedSubject } from '@bevrin/contract';
import type { TriedRun } from '../picture/worker.js';
import { amount, settingName, settingTexts } from '../../parts/format.js';

/** What is tried, by its name. */
export const triedName = (subject: TriedSubject): string =>
  subject === 'plan' ? 'The whole plan' : TREATMENT_NAMES[subject];

/** Names of the settings that differ between the runs of a trial; lists are left out. */
export const differing = ({ runs }: Trial): string[] =>
  Object.keys(runs[0]?.settings ?? {}).filter(
    (name) =>
      !Array.isArray(runs[0].settings[name]) && runs.some((r) => r.settings[name] !== runs[0].settings[name]),
  );

/** The runs of a trial by the value of its second setting; all of them in one where one setting is swept. */
export const groupsOf = (trial: Trial | null): { name: string; runs: number[] }[] => {
  if (!trial || trial.runs.length === 0) return [];
  const [, second] = differing(trial);
  const groups = new Map<string, number[]>();
  trial.runs.forEach(({ settings }, run) => {
    const name = second === undefined ? '' : settingTexts({ [second]: settings[second] }).join('');
    groups.set(name, [...(groups.get(name) ?? []), run]);
  });
  return [...groups].map(([name, runs]) => ({ name, runs }));
};

/** A run by what sets it apart from the others. */
export const runLabel = (trial: Trial, run: number): string => {
  const names = differing(trial);
  if (trial.runs[run].steps.length > 1 && names.length === 0)
    return trial.runs[run].steps.map((s) => TREATMENT_NAMES[s.treatment]).join(', ');
  const { settings } = trial.runs[run];
  const shown = names.length > 0 ? names : Object.keys(settings).slice(0, 1);
  return settingTexts(Object.fromEntries(shown.map((n) => [n, settings[n]]))).join(', ');
};

/** A setting that another may be set against. */
export interface OtherRun extends TriedRun {
  readonly label: string;
}

/** Every setting of a treatment whose frames are kept, but the one that is looked at: this trial's first, then the others'. */
export const othersOf = (trials: readonly ClipTrial[], open: TriedRun & { job: ClipTrial }): OtherRun[] =>
  trials
    .filter((t) => t.treatment === open.job.treatment && t.frames && t.trial)
    .sort((a, b) => Number(b.id === open.trialId) - Number(a.id === open.trialId))
    .flatMap((t) =>
      t.trial!.runs.flatMap((_, run) =>
        t.id === open.trialId && run === open.run
          ? []
          : [
              {
                trialId: t.id,
                run,
                label: `${runLabel(t.trial!, run)}${t.id === open.trialId ? '' : `, ${t.createdAt.slice(11, 16)}`}`,
              },
            ],
      ),
    );

/** The value of a run in a narrow column. */
export const runValue = (trial: Trial, run: number): string => {
  const names = differing(trial);
  const { steps, settings } = trial.runs[run];
  if (names.length > 0) return names.map((name) => String(settings[name])).join(' / ');
  return steps.length > 1 ? 'as planned' : 'as set';
};

/** What the runs of a trial differ in, as the head of a column. */
export const sweptName = (trial: Trial): string => {
  const names = differing(trial);
  return names.length === 0 ? 'Setting' : names.map(settingName).join(' / ');
};

/** Every figure of harm of a run, with why it is not there. */
export const harmRows = (
  run: TrialRun,
): { name: keyof HarmValues; words: string; text: string; why: string | null }[] =>
  HARM_NAMES.map(([name, words, unit]) => {
    const value = run.harm[name];
    return {
      name,
      words,
      text: value === null ? 'not measurable' : amount(value, unit),
      why: value === null ? (run.notMeasurable[name] ?? null) : null,
    };
  });

/** Of the settings of a run those that a plan's step has too. */
export const settingsFor = (step: Pick<Step, 'settings'> | null, run: TrialRun): Step['settings'] =>
  Object.fromEntries(
    Object.entries(run.settings).filter(
      ([name, value]) =>
        !Array.isArray(value) && (!step || name in step.settings) && step?.settings[name] !== value,
    ),
  );
