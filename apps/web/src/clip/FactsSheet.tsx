import { Link } from 'react-router';
import type { ClipDetail, ClipFacts, Version } from '@bevrin/contract';
import { api, sayError } from '../api/client.js';
import { amount, rateText, whenText } from '../parts/format.js';
import { NoteField } from './NoteField.js';
import { versionAddress } from './versionAddress.js';

/** What the file is, what the technician wrote, and for a drawn clip what was put in. */
export const FactsSheet = ({ clip }: { clip: ClipDetail & { facts: ClipFacts } }) => (
  <div className="text-sm">
    <dl className="grid grid-cols-[8rem_1fr] pt-1">
      {[...factRows(clip.facts), ...seenRows(clip)].map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="border-b border-hair py-0.5 text-soft">{name}</dt>
          <dd className="border-b border-hair py-0.5">{value}</dd>
        </div>
      ))}
    </dl>
    {!clip.versionOf && <SpecOfClip clip={clip} />}
    {!clip.versionOf && <NoteField key={clip.id} clipId={clip.id} saved={clip.note} />}
    {clip.versions.length > 1 && <Versions clip={clip} />}
    {clip.truth.length > 0 && <TruthTable clip={clip} />}
  </div>
);

/** A clip may go to another delivery than the rest of its batch. */
const SpecOfClip = ({ clip }: { clip: ClipDetail }) => {
  const { data: specs } = api.useSpecsQuery();
  const [change, { error }] = api.useChangeClipSpecMutation();
  return (
    <label className="mt-3 block">
      <span className="heading block">Delivery spec of this clip</span>
      <select
        className="w-full field"
        value={clip.specId ?? ''}
        onChange={(e) => void change({ clipId: clip.id, specId: e.target.value || null })}
      >
        <option value="">that of the batch</option>
        {specs?.map((s) => (
          <option key={s.id} value={s.id}>
            {s.name}, version {s.version}
          </option>
        ))}
      </select>
      {error && <span role="alert">{sayError(error)}</span>}
    </label>
  );
};

const factRows = (f: ClipFacts): [string, string][] => [
  [
    'picture',
    `${f.width} × ${f.height} px${f.pixelAspect === 1 ? '' : `, pixels ${amount(f.pixelAspect, '')} : 1`}${f.rotation ? `, turned ${f.rotation}°` : ''}`,
  ],
  ['rate', `${rateText(f)}, ${f.scan}`],
  ['length', `${f.frames} frames, ${f.durationSec.toFixed(2)} s`],
  ['stored as', `${f.codec} in ${f.container}, ${f.bitDepth} bit, ${f.pixelFormat}`],
  ['signal', `${f.range} range, matrix ${f.matrix}, transfer ${f.transfer}`],
  ['assumed', f.assumed.length > 0 ? `${f.assumed.join(', ')}: the stream does not say` : 'nothing'],
];

/** What the measurement found out about the file itself. */
const seenRows = ({ measurement, facts }: ClipDetail): [string, string][] => {
  if (!measurement || !facts) return [];
  const {
    activePicture: a,
    duplicateFrames,
    repeatEvery,
    lostBefore,
    blockiness,
    measuredAs,
    scanSeen,
    fieldOrderSeen,
  } = measurement.clip;
  return [
    [
      'black bars',
      a && (a.width < facts.width || a.height < facts.height)
        ? `the picture fills ${a.width} × ${a.height} px`
        : 'none',
    ],
    [
      'rows, as the picture shows them',
      scanSeen === null
        ? 'too little moves to tell'
        : `${scanSeen}${fieldOrderSeen ? `, ${fieldOrderSeen} field first` : ''}`,
    ],
    [
      'repeated frames',
      duplicateFrames ? `${duplicateFrames}${repeatEvery ? `, one in every ${repeatEvery}` : ''}` : 'none',
    ],
    [
      'lost frames',
      lostBefore === null
        ? 'not looked for'
        : lostBefore.length > 0
          ? `before ${lostBefore.slice(0, 4).join(', ')}${lostBefore.length > 4 ? ' and more' : ''}`
          : 'none seen',
    ],
    [
      'compression blocks',
      blockiness === null ? 'not measurable' : `${amount(blockiness, '')} × the steps between`,
    ],
    ...(measuredAs === 'firstField'
      ? [['measured as', 'the first field of each frame'] as [string, string]]
      : []),
  ];
};

/** The files of a clip, each to be opened by itself. */
const Versions = ({ clip }: { clip: ClipDetail }) => (
  <section className="mt-3">
    <h3 className="heading">Versions of this clip</h3>
    <ul>
      {clip.versions.map((v) => (
        <li key={v.id} className="border-b border-hair py-0.5">
          {v.number}, {VERSION_NAMES[v.kind]}, {whenText(v.createdAt)}{' '}
          {v.id === (clip.versionOf ? clip.id : clip.measured?.versionId) ? (
            <b className="font-semibold">open here</b>
          ) : (
            <Link className="underline" to={versionAddress(clip, v.id)}>
              open by itself
            </Link>
          )}
        </li>
      ))}
    </ul>
  </section>
);

const VERSION_NAMES: Record<Version['kind'], string> = {
  original: 'original',
  repaired: 'repaired',
  trial: 'a trial',
};

const TruthTable = ({ clip }: { clip: ClipDetail }) => (
  <table className="mt-3 w-full">
    <caption className="heading text-left">Drawn clip: what was put in, what was read</caption>
    <thead className="text-soft">
      <tr className="border-b border-ink">
        <th className="text-left font-normal">truth</th>
        <th className="text-right font-normal">put in</th>
        <th className="text-right font-normal">read</th>
      </tr>
    </thead>
    <tbody>
      {clip.truth.map((t) => (
        <tr key={t.reading} className="border-b border-hair">
          <td className="py-0.5">{t.what}</td>
          <td className="text-right">{amount(t.value, t.unit)}</td>
          <td className="text-right">{readingText(clip, t.reading, t.unit)}</td>
        </tr>
      ))}
    </tbody>
  </table>
);

const readingText = ({ measurement }: ClipDetail, path: string, unit: string): string => {
  const [defect, name] = path.split('.');
  const reading = Object.entries(measurement?.readings ?? {}).find(([d]) => d === defect)?.[1];
  if (!reading) return 'not yet';
  const value = (reading.values as Record<string, unknown>)[name];
  return typeof value === 'number' ? amount(value, unit) : 'not measured';
};
