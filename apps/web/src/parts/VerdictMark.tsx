import type { Clip, Verdict } from '@bevrin/contract';

const MARKS: Record<Verdict, string> = {
  pass: 'border-rule font-normal',
  marginal: 'border-ink border-dashed font-semibold',
  fail: 'border-ink bg-ink text-white font-semibold',
  incomplete: 'border-ink border-dotted font-normal italic',
};

/** A verdict as a stamp: told by its word, its border and its weight. */
export const VerdictMark = ({ verdict, large = false }: { verdict: Verdict; large?: boolean }) => (
  <span className={`inline-block border px-2 text-center ${large ? 'text-lg' : 'text-sm'} ${MARKS[verdict]}`}>
    {verdict}
  </span>
);

const STATES: Record<Clip['state'], string> = {
  receiving: 'receiving',
  interrupted: 'interrupted',
  queued: 'waiting',
  measuring: 'measuring',
  measured: 'measured',
  failed: 'not readable',
};

/** Where a clip is on its way in, with what is done of it. */
export const Progress = ({ clip }: { clip: Clip }) => {
  const running = clip.state === 'receiving' || clip.state === 'measuring';
  const percent = Math.round(clip.progress * 100);
  return (
    <span className="block text-sm" role="status">
      {STATES[clip.state]}
      {running && ` ${percent} %`}
      {running && (
        <span className="mt-1 block h-1.5 w-20 border border-ink">
          <span className="block h-full bg-ink" style={{ width: `${percent}%` }} />
        </span>
      )}
    </span>
  );
};
