import { useState, type FormEvent } from 'react';
import type { ClipFacts } from '@bevrin/contract';
import type { Tool } from '../picture/tools.js';
import { useBench } from '../useBench.js';
import { Take } from '../../parts/Take.js';

interface Place {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

interface Props {
  readonly name: string;
  readonly place: Place | null;
  readonly picture: ClipFacts;
  readonly tool: Tool;
  readonly onChange: (place: Place | null) => void;
}

const SIDES = ['x', 'y', 'width', 'height'] as const;

/** A rectangle of the picture: drawn with the pointer, or written down. */
export const PlaceFields = ({ name, place, picture, tool, onChange }: Props) => {
  const [bench, set] = useBench();
  const [writing, setWriting] = useState(false);
  const submit = (e: FormEvent<HTMLFormElement>): void => {
    e.preventDefault();
    const form = new FormData(e.currentTarget);
    const [x, y, width, height] = SIDES.map((side) => Number(form.get(side)));
    setWriting(false);
    onChange({ x, y, width, height });
  };
  if (writing)
    return (
      <form onSubmit={submit} className="flex flex-wrap items-center gap-1">
        {SIDES.map((side) => (
          <input
            key={side}
            name={side}
            aria-label={`${name}: ${side}, px`}
            placeholder={side}
            type="number"
            required
            min={side === 'x' || side === 'y' ? 0 : 4}
            max={side === 'x' || side === 'width' ? picture.width : picture.height}
            defaultValue={place?.[side]}
            className="w-16 field"
          />
        ))}
        <button className="button">Use</button>
      </form>
    );
  return (
    <span className="flex flex-wrap items-baseline gap-2">
      {place && `${place.width} × ${place.height} px at ${place.x}, ${place.y}`}
      {place && <Take onClick={() => onChange(null)}>remove</Take>}
      <button
        className="button"
        aria-label={`Draw: ${name.toLowerCase()}`}
        aria-pressed={bench.tool === tool}
        onClick={() => set({ tool: bench.tool === tool ? 'look' : tool })}
      >
        Draw
      </button>
      <button
        className="button"
        aria-label={`Write down: ${name.toLowerCase()}`}
        onClick={() => setWriting(true)}
      >
        Write down
      </button>
    </span>
  );
};
