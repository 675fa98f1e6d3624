import { useState } from 'react';
import type { AskTrial as Asked, ClipDetail, DecidedStep, Step, TriableTreatment } from '@bevrin/contract';
import { api, sayError } from '../../api/client.js';
import { settingName } from '../../parts/format.js';
import { useSignature } from '../../parts/signature.js';
import type { InOut } from '../inOut.js';
import { PLACE_NAMES, placesOf, sweepFrom, type Place } from './asking.js';

interface Props {
  readonly clip: ClipDetail;
  readonly schema: TriableTreatment;
  readonly step: DecidedStep | null;
  readonly inOut: InOut;
  /** Settings of the run that is looked at: another trial begins with them. */
  readonly begunWith: Step['settings'] | null;
}

type Schema = TriableTreatment['settings'][string];

/** Settings to try next: any of them may be changed, and one is swept. */
export const AskTrial = ({ clip, schema, step, inOut, begunWith }: Props) => {
  const [who] = useSignature();
  const [ask, { error, isLoading }] = api.useAskTrialMutation();
  const [changed, setChanged] = useState<Record<string, string>>({});
  const [values, setValues] = useState('');
  const [second, setSecond] = useState({ key: '', values: '' });
  const [place, setPlace] = useState<Place>('planned');
  const [problem, setProblem] = useState('');
  const now = { ...step?.settings, ...begunWith };
  const plain = Object.entries(schema.settings).filter(
    ([name, s]) => s.kind !== 'rows' && (name !== 'keepFrom' || !('regions' in schema.settings)),
  );
  const figures = plain.filter(([name, s]) => s.kind === 'number' && name !== schema.swept);
  const places = 'regions' in schema.settings ? placesOf(clip.overrides) : [];
  const { from, to } = inOut;
  const submit = (): void => {
    const settings: Step['settings'] = {};
    for (const [name, text] of Object.entries(changed)) {
      const value = read(schema.settings[name], text);
      if (value === null) return setProblem(`${settingName(name)}: ${sentenceOf(schema.settings[name])}`);
      settings[name] = value;
    }
    const where = places.find((p) => p.place === place);
    if (where) Object.assign(settings, { regions: where.regions, keepFrom: where.keepFrom });
    const sweep = sweepFrom(schema.swept, values, second);
    if (typeof sweep === 'string') return setProblem(sweep);
    setProblem('');
    const body: Asked = {
      who,
      treatment: schema.treatment,
      ...(Object.keys(settings).length > 0 || sweep
        ? { settings: { ...scalars(now, schema), ...settings } }
        : {}),
      ...(sweep ? { sweep } : {}),
      ...(from !== null && to !== null ? { range: { startFrame: from, endFrame: to } } : {}),
    };
    void ask({ clipId: clip.id, ...body });
  };
  return (
    <form
      className="mt-3 border-t border-ink pt-2"
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
    >
      <h3 className="heading">Try other settings</h3>
      <div className="grid grid-cols-3 items-end gap-x-3 gap-y-1 pt-1">
        {plain.map(([name, s]) => (
          <label key={name}>
            <span
              className="block text-xs text-balance text-soft"
              title={`${settingName(name)}: ${sentenceOf(s)}`}
            >
              {settingName(name)}
            </span>
            <Field
              schema={s}
              value={changed[name] ?? String(now[name] ?? ('otherwise' in s ? s.otherwise : ''))}
              onChange={(text) => setChanged({ ...changed, [name]: text })}
            />
          </label>
        ))}
        {places.length > 0 && (
          <label>
            <span className="block text-xs text-soft">where</span>
            <select
              className="w-full field"
              value={place}
              onChange={(e) => setPlace(e.target.value as Place)}
            >
              <option value="planned">as planned</option>
              {places.map((p) => (
                <option key={p.place} value={p.place}>
                  {PLACE_NAMES[p.place]}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
      <p className="flex items-end gap-3 pt-2">
        <label className="flex-1">
          <span className="block text-xs text-soft">each with each of: a second setting</span>
          <select
            className="w-full field"
            value={second.key}
            onChange={(e) => setSecond({ ...second, key: e.target.value })}
          >
            <option value="">none</option>
            {figures.map(([name]) => (
              <option key={name} value={name}>
                {settingName(name)}
              </option>
            ))}
          </select>
        </label>
        <label className="flex-1">
          <span className="block text-xs text-soft">
            {second.key ? `${settingName(second.key)}: values to compare` : 'its values'}
          </span>
          <input
            className="w-full field"
            disabled={second.key === ''}
            value={second.values}
            onChange={(e) => setSecond({ ...second, values: e.target.value })}
          />
        </label>
      </p>
      <p className="flex items-end gap-3 pt-2">
        <label className="flex-1">
          <span className="block text-xs text-soft">{settingName(schema.swept)}: values to compare</span>
          <input
            className="w-full field"
            placeholder="about the one above"
            value={values}
            onChange={(e) => setValues(e.target.value)}
          />
        </label>
        <button className="button font-semibold" disabled={isLoading}>
          Try
        </button>
      </p>
      <p className="pt-1 text-xs text-soft">
        {from !== null && to !== null
          ? `Frames ${from} to ${to}, from the in to the out point.`
          : 'Where it is worst: a second, or what it takes to tell. In and out points try other frames.'}
      </p>
      {(problem || error) && (
        <p role="alert" className="pt-1 font-semibold">
          {problem || sayError(error)}
        </p>
      )}
    </form>
  );
};

const Field = ({
  schema,
  value,
  onChange,
}: {
  schema: Schema;
  value: string;
  onChange: (text: string) => void;
}) => {
  if (schema.kind === 'number')
    return (
      <input
        inputMode="decimal"
        className="w-full field text-right"
        value={value}
        onChange={(e) => onChange(e.target.value)}
      />
    );
  const options = schema.kind === 'choice' ? schema.options : ['true', 'false'];
  return (
    <select className="w-full field" value={value} onChange={(e) => onChange(e.target.value)}>
      {options.map((o) => (
        <option key={o} value={o}>
          {o === 'true' ? 'on' : o === 'false' ? 'off' : o}
        </option>
      ))}
    </select>
  );
};

const read = (schema: Schema, text: string): number | string | boolean | null => {
  if (schema.kind === 'choice') return text;
  if (schema.kind === 'flag') return text === 'true';
  if (schema.kind === 'rows') return null;
  const value = Number(text.replace(',', '.'));
  return text.trim() !== '' && value >= schema.least && value <= schema.most ? value : null;
};

const sentenceOf = (schema: Schema): string =>
  schema.kind === 'number'
    ? `a figure from ${schema.least} to ${schema.most}${schema.unit && ` ${schema.unit}`}`
    : schema.kind === 'choice'
      ? `one of ${schema.options.join(', ')}`
      : 'on or off';

/** The settings of a run without its lists: the plan knows those. */
const scalars = (settings: Step['settings'], { settings: known }: TriableTreatment): Step['settings'] =>
  Object.fromEntries(Object.entries(settings).filter(([name, v]) => name in known && !Array.isArray(v)));
