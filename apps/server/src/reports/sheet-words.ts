import {
  amount,
  findingName,
  HARM_NAMES,
  type MeasuredUnder,
  type ReportClip,
  type TriedStep,
} from '@bevrin/contract';

/** Signs that the type does not hold, said in those that it does. */
export const typed = (text: string): string =>
  text.replaceAll('σ', 'sigma').replaceAll('→', 'to').replaceAll('−', '-').replaceAll('≥', 'at least');

/** What a trial found of a setting, in one line. */
export const harmText = ({ gain, harm, worse }: TriedStep): string =>
  [
    ...gain.map((g) => `${findingName(g)} ${amount(g.from, g.unit)} to ${amount(g.to, g.unit)}`),
    ...HARM_NAMES.flatMap(([name, words, unit]) => {
      const value = harm?.[name] ?? null;
      return value === null ? [] : [`${words} ${amount(value, unit)}`];
    }),
    ...worse.map((w) => `worse: ${findingName(w)} ${amount(w.from, w.unit)} to ${amount(w.to, w.unit)}`),
  ].join(' · ');

/** What a technician decided about how it was measured, in one sentence. */
export const underText = ({
  range,
  intent,
  noisePatch,
  masks,
  interest,
  viewing,
}: MeasuredUnder): string | null => {
  const parts = [
    range && `frames ${range.startFrame} to ${range.endFrame}`,
    intent && `a camera meant to be ${intent}`,
    noisePatch && 'a flat patch drawn by hand',
    masks?.length && `${masks.length} masked ${masks.length === 1 ? 'place' : 'places'}`,
    interest && 'a region of interest',
    viewing && 'a viewing transform over the noise',
  ].filter(Boolean);
  return parts.length > 0 ? `Measured with ${parts.join(', ')}.` : null;
};

const MOST_PLACES = 6;
/** The value of a setting; of a list the first few. */
export const shown = (value: ReportClip['plan']['steps'][number]['settings'][string]): string => {
  if (!Array.isArray(value)) return value === true ? 'yes' : value === false ? 'no' : String(value);
  const places = value.slice(0, MOST_PLACES).map((p) => p.map((v) => Number(v.toFixed(1))).join(', '));
  return `${places.join('; ')}${value.length > MOST_PLACES ? ` and ${value.length - MOST_PLACES} more` : ''}`;
};
