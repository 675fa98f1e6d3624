import { useEffect, useRef, useState, type ReactNode, type RefObject } from 'react';
import { DEFECT_NAMES, DEFECTS, type Clip } from '@bevrin/contract';
import { choicesIn, GROUPS, LAYOUTS, NOBODY, SORTS, type Filters } from './filters.js';

interface Props {
  readonly clips: readonly Clip[];
  readonly filters: Filters;
  readonly left: number;
  readonly search: RefObject<HTMLInputElement | null>;
  readonly onFilter: (name: keyof Filters, value: string) => void;
  readonly onClear: () => void;
}

/** What of the batch is shown. All of it stands in the address, which can be kept and sent. */
export const FilterBar = ({ clips, filters: f, left, search, onFilter, onClear }: Props) => {
  const { verdicts, cameras, facts, assignees } = choicesIn(clips);
  const filtered = left < clips.length;
  return (
    <div
      role="search"
      aria-label="Clips of this batch"
      className="flex flex-wrap items-center gap-x-2 gap-y-1 border-b border-rule bg-sheet px-5 py-1.5 text-sm"
    >
      <SearchField field={search} value={f.q} onSearch={(q) => onFilter('q', q)} />
      <Choice name="Verdict" value={f.verdict} onChoose={(v) => onFilter('verdict', v)}>
        <option value="">any verdict</option>
        {verdicts.map((v) => (
          <option key={v}>{v}</option>
        ))}
      </Choice>
      <Choice name="Defect" value={f.defect} onChoose={(v) => onFilter('defect', v)}>
        <option value="">any defect</option>
        {DEFECTS.map((d) => (
          <option key={d} value={d}>
            {DEFECT_NAMES[d]}
          </option>
        ))}
      </Choice>
      <label className="flex items-center gap-1">
        from severity
        <input
          type="number"
          min={0}
          max={100}
          step={5}
          className="field w-14"
          value={f.least || ''}
          placeholder="0"
          onChange={(e) => onFilter('least', e.target.value)}
        />
      </label>
      <Choice name="Camera" value={f.camera} onChoose={(v) => onFilter('camera', v)}>
        <option value="">any camera</option>
        {cameras.map((c) => (
          <option key={c}>{c}</option>
        ))}
      </Choice>
      <Choice name="Size and rate" value={f.fact} onChoose={(v) => onFilter('fact', v)}>
        <option value="">any size</option>
        {facts.map((c) => (
          <option key={c}>{c}</option>
        ))}
      </Choice>
      <Choice name="Assigned to" value={f.assignee} onChoose={(v) => onFilter('assignee', v)}>
        <option value="">anybody’s</option>
        {assignees.map((a) => (
          <option key={a} value={a}>
            {a === NOBODY ? 'nobody’s' : a}
          </option>
        ))}
      </Choice>
      {filtered && (
        <>
          <span role="status">
            {left} of {clips.length}
          </span>
          <button className="underline decoration-rule underline-offset-4" onClick={onClear}>
            Show all
          </button>
        </>
      )}
      <span className="ml-auto flex items-center gap-2">
        <Choice name="Order" value={f.sort} onChoose={(v) => onFilter('sort', v)}>
          {Object.entries(SORTS).map(([value, name]) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </Choice>
        <Choice name="Group" value={f.group} onChoose={(v) => onFilter('group', v)}>
          {Object.entries(GROUPS).map(([value, name]) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </Choice>
        <Choice name="Layout" value={f.layout} onChoose={(v) => onFilter('layout', v)}>
          {Object.entries(LAYOUTS).map(([value, name]) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </Choice>
      </span>
    </div>
  );
};

/** Letters go into the address when the hand rests: it is not made anew for each. */
const REST_MS = 90;

const SearchField = ({
  field,
  value,
  onSearch,
}: {
  field: RefObject<HTMLInputElement | null>;
  value: string;
  onSearch: (text: string) => void;
}) => {
  const [text, setText] = useState(value);
  /** What the address says, and what it was given since and does not say yet: it follows when there is time. */
  const given = useRef([value]);
  const waiting = useRef<ReturnType<typeof setTimeout>>(undefined);
  useEffect(() => {
    const at = given.current.lastIndexOf(value);
    given.current = at < 0 ? [value] : given.current.slice(at);
    if (at >= 0) return;
    // Something of its own: all is to be shown, or one goes back.
    clearTimeout(waiting.current);
    setText(value);
  }, [value]);
  return (
    <input
      ref={field}
      type="search"
      aria-label="Search names and notes"
      placeholder="search"
      className="field w-24 px-2"
      value={text}
      onChange={(e) => {
        const next = e.target.value;
        setText(next);
        clearTimeout(waiting.current);
        waiting.current = setTimeout(() => {
          given.current.push(next);
          onSearch(next);
        }, REST_MS);
      }}
    />
  );
};

const Choice = ({
  name,
  value,
  onChoose,
  children,
}: {
  name: string;
  value: string;
  onChoose: (value: string) => void;
  children: ReactNode;
}) => (
  <select
    aria-label={name}
    // As wide as what is chosen: what is left of the batch fits beside it.
    className={`field field-sizing-content max-w-[7.7rem] ${value ? 'border-ink' : ''}`}
    value={value}
    onChange={(e) => {
      onChoose(e.target.value);
      e.target.blur(); // the arrow keys go back to the clips
    }}
  >
    {children}
  </select>
);
