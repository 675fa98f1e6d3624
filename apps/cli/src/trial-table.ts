import { HARM_NAMES, type Trial, type TrialRun } from '@bevrin/contract';

const shown = (value: number): string => String(Number(value.toPrecision(3)));

/** The settings that differ between runs; all of them where there is one run. */
const differing = (runs: readonly TrialRun[]): string[] =>
  Object.keys(runs[0]?.settings ?? {}).filter(
    (name) =>
      !Array.isArray(runs[0].settings[name]) &&
      (runs.length === 1 || runs.some((r) => r.settings[name] !== runs[0].settings[name])),
  );

/** A trial for people: each setting with its gain and its harm, and the one to take. */
export const asTrialTable = ({ clip, range, runs, choice }: Trial): string => {
  const names = differing(runs);
  const lines = [`${clip}, frames ${range.startFrame} to ${range.endFrame}`];
  runs.forEach((run, i) => {
    const settings = names.map((name) => `${name} ${String(run.settings[name])}`).join(', ');
    lines.push(
      '',
      `${i === choice.run ? '→' : ' '} ${i + 1}  ${settings}   ${run.secondsPerFrame.toFixed(2)} s a frame`,
    );
    for (const g of run.gain)
      lines.push(`       ${g.reading.padEnd(32)}${shown(g.from)} → ${shown(g.to)} ${g.unit}`);
    for (const [name, words, unit] of HARM_NAMES) {
      const value = run.harm[name];
      if (value !== null) lines.push(`       ${words.padEnd(32)}${shown(value)} ${unit}`.trimEnd());
    }
    for (const w of run.worse)
      lines.push(`       worse: ${w.reading.padEnd(25)}${shown(w.from)} → ${shown(w.to)} ${w.unit}`);
    if (run.file) lines.push(`       ${run.file}`);
  });
  return [...lines, '', choice.because].join('\n');
};
