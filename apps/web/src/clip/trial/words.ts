import type { HarmValues, Step, Trial, TrialRun } from '@bevrin/contract';
import { HARM_NAMES, TREATMENT_NAMES, type TriedSubject } from '@bevrin/contract';
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

/** A run by what sets it apart from the others. */
export const runLabel = (trial: Trial, run: number): string => {
  if (trial.runs[run].steps.length > 1)
    return trial.runs[run].steps.map((s) => TREATMENT_NAMES[s.treatment]).join(', ');
  const names = differing(trial);
  const { settings } = trial.runs[run];
  const shown = names.length > 0 ? names : Object.keys(settings).slice(0, 1);
  return settingTexts(Object.fromEntries(shown.map((n) => [n, settings[n]]))).join(', ');
};

/** The value of a run in a narrow column. */
export const runValue = (trial: Trial, run: number): string => {
  const [name] = differing(trial);
  return name === undefined
    ? trial.runs[run].steps.length > 1
      ? 'as planned'
      : 'as set'
    : String(trial.runs[run].settings[name]);
};

/** What the runs of a trial differ in, as the head of a column. */
export const sweptName = (trial: Trial): string => {
  const [name] = differing(trial);
  return name === undefined ? 'Setting' : settingName(name);
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
