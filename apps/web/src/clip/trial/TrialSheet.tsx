import { TREATMENT_NAMES, type ClipDetail, type ClipTrial, type TriedSubject } from '@bevrin/contract';
import { api, sayError } from '../../api/client.js';
import { NameField } from '../../parts/NameField.js';
import { useSignature } from '../../parts/signature.js';
import type { InOut } from '../inOut.js';
import type { Overruling } from '../overrule/useOverrule.js';
import { AskTrial } from './AskTrial.js';
import { Found } from './Found.js';
import type { Trying } from './useTrying.js';

interface Props {
  readonly clip: ClipDetail;
  readonly trying: Trying;
  readonly overruling: Overruling;
  readonly inOut: InOut;
  readonly frozen: boolean;
  readonly onLookAt: (frame: number, x: number, y: number) => void;
}

/** What was tried for one step of the plan: what it gained and harmed, which setting is proposed, and a way to try others. */
export const TrialSheet = ({ clip, trying, overruling, inOut, frozen, onLookAt }: Props) => {
  const { data: triable = [] } = api.useTreatmentsQuery();
  const { treatment, step, open, trials } = trying;
  const own = trials.filter((t) => t.treatment === treatment);
  const schema = triable.find((t) => t.treatment === treatment) ?? null;
  const planned = (clip.judgement?.plan.steps ?? []).map((s) => s.treatment);
  return (
    <div className="text-sm">
      <p className="flex items-end gap-3 pt-2">
        <label className="flex-1">
          <span className="heading block">Treatment</span>
          <select
            className="w-full field"
            value={treatment ?? ''}
            onChange={(e) => {
              trying.look(e.target.value as TriedSubject);
              e.target.blur();
            }}
          >
            {treatment === null && <option value="">nothing to repair</option>}
            {triable.map((t) => (
              <option key={t.treatment} value={t.treatment}>
                {TREATMENT_NAMES[t.treatment]}
                {planned.includes(t.treatment) ? '' : ', not in the plan'}
              </option>
            ))}
            {planned.length > 1 && <option value="plan">The whole plan, in its order</option>}
            {planned
              .filter((t) => !triable.some((r) => r.treatment === t))
              .map((t) => (
                <option key={t} value={t}>
                  {TREATMENT_NAMES[t]}, cannot be tried here
                </option>
              ))}
          </select>
        </label>
        <NameField missing={overruling.unsigned} />
      </p>
      {open && (
        <Found
          clip={clip}
          open={open}
          step={step}
          others={own.filter((t) => t.id !== open.trialId && t.state === 'done')}
          frozen={frozen}
          onChoose={(run) => trying.choose(open.trialId, run)}
          onDecide={(decision) => overruling.decide(decision)}
          onLookAt={onLookAt}
        />
      )}
      {own.length > 0 && <Jobs clip={clip} jobs={own} trying={trying} />}
      {schema && treatment && (
        <AskTrial
          key={treatment}
          clip={clip}
          schema={schema}
          step={step}
          inOut={inOut}
          begunWith={open?.job.treatment === treatment ? open.trial.runs[open.run].settings : null}
        />
      )}
      {treatment === 'plan' && <AskPlan clip={clip} inOut={inOut} />}
      {!schema && treatment && treatment !== 'plan' && (
        <p className="pt-3">
          {TREATMENT_NAMES[treatment]} is not done on single frames here: it is done before anything else, and
          cannot be tried.
        </p>
      )}
    </div>
  );
};

/** The plan is tried as it stands. */
const AskPlan = ({ clip, inOut: { from, to } }: { clip: ClipDetail; inOut: InOut }) => {
  const [who] = useSignature();
  const [ask, { error, isLoading }] = api.useAskTrialMutation();
  const range = from !== null && to !== null ? { range: { startFrame: from, endFrame: to } } : {};
  return (
    <p className="mt-3 border-t border-ink pt-2">
      <button
        className="button font-semibold"
        disabled={isLoading}
        onClick={() => void ask({ clipId: clip.id, who, treatment: 'plan', ...range })}
      >
        Try the plan
      </button>
      <span className="ml-3 text-soft">each step with its settings, one after the other</span>
      {error && (
        <span role="alert" className="block pt-1 font-semibold">
          {sayError(error)}
        </span>
      )}
    </p>
  );
};

const Jobs = ({ clip, jobs, trying }: { clip: ClipDetail; jobs: readonly ClipTrial[]; trying: Trying }) => {
  const [cancel, { error }] = api.useCancelTrialMutation();
  return (
    <section className="pt-3">
      <h3 className="heading">Trials of it</h3>
      <ul>
        {[...jobs].reverse().map((job) => (
          <li key={job.id} className="flex items-baseline gap-2 border-b border-hair py-0.5">
            <button
              aria-pressed={job.id === trying.open?.trialId}
              disabled={(job.trial?.runs.length ?? 0) === 0}
              onClick={() => trying.choose(job.id, job.trial?.choice.run ?? 0)}
              className="flex-1 text-left aria-pressed:font-semibold enabled:hover:underline"
            >
              {job.createdAt.slice(11, 16)} {job.who === '' ? 'without being asked' : job.who}
              {job.trial &&
                `, ${job.trial.runs.length} ${job.trial.runs.length === 1 ? 'setting' : 'settings'}`}
            </button>
            <span className="text-soft" data-testid="trial-state">
              {stateText(job)}
            </span>
            {(job.state === 'running' || job.state === 'waiting') && (
              <button className="button" onClick={() => void cancel({ id: job.id, clipId: clip.id })}>
                Cancel
              </button>
            )}
            {job.error && <span className="basis-full pl-4">{job.error}</span>}
          </li>
        ))}
      </ul>
      {error && <p role="alert">{sayError(error)}</p>}
    </section>
  );
};

const stateText = ({ state, progress, secondsLeft, frames }: ClipTrial): string => {
  if (state === 'waiting') return 'waits for its turn';
  if (state === 'running')
    return `${Math.round(100 * progress)} %${secondsLeft === null ? '' : `, about ${secondsLeft} s left`}`;
  if (state === 'done') return frames ? 'done' : 'done, frames dropped';
  return state === 'skipped' ? 'left out' : state;
};
