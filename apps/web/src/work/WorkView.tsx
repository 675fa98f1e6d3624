import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { TREATMENT_NAMES, TREATMENTS } from '@bevrin/contract';
import { api, sayError } from '../api/client.js';
import { Downloads } from '../parts/Downloads.js';
import { amount } from '../parts/format.js';
import { useCommands } from '../parts/commands.js';
import { findingName } from '../parts/names.js';
import { groupOf, tasksOf, togetherWith, type Task } from './gain.js';

/** All plans of a batch as one list for the repair room, the most gain for the least effort first. */
export const WorkView = () => {
  const { batchId = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const { data: detail } = api.useBatchQuery(batchId);
  const { data: items, error } = api.useWorkQuery(batchId, { refetchOnMountOrArgChange: true });
  const navigate = useNavigate();
  useCommands('Work list', [
    { name: 'Back to the batch', keys: 'esc', run: () => void navigate(`/batches/${batchId}`) },
  ]);
  const [treatment, assignee] = [search.get('treatment') ?? '', search.get('assignee') ?? ''];
  const filter = (name: string, value: string): void => {
    const next = new URLSearchParams(search);
    if (value) next.set(name, value);
    else next.delete(name);
    setSearch(next, { replace: true });
  };
  const all = tasksOf(items ?? []);
  const shown = all.filter(
    ({ item, step }) =>
      (!treatment || step.treatment === treatment) && (!assignee || item.plan.assignee === assignee),
  );
  const people = [...new Set((items ?? []).map((i) => i.plan.assignee).filter(Boolean))].sort();
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[1fr_17rem] bg-sheet">
      <div className="flex min-h-0 flex-col">
        <section className="flex flex-wrap items-baseline gap-4 border-b border-ink px-5 py-3 text-sm">
          <h1 className="text-lg font-semibold">Work list</h1>
          {detail && (
            <Link className="text-soft hover:underline" to={`/batches/${batchId}`}>
              {detail.batch.name}
            </Link>
          )}
          <label className="ml-auto flex items-center gap-2">
            Treatment
            <select className="field" value={treatment} onChange={(e) => filter('treatment', e.target.value)}>
              <option value="">all</option>
              {TREATMENTS.filter((t) => all.some((a) => a.step.treatment === t)).map((t) => (
                <option key={t} value={t}>
                  {TREATMENT_NAMES[t]}
                </option>
              ))}
            </select>
          </label>
          <label className="flex items-center gap-2">
            Assigned to
            <select className="field" value={assignee} onChange={(e) => filter('assignee', e.target.value)}>
              <option value="">anybody</option>
              {people.map((p) => (
                <option key={p}>{p}</option>
              ))}
            </select>
          </label>
        </section>
        {error && (
          <p role="alert" className="p-5">
            {sayError(error)}
          </p>
        )}
        {!items && !error && <p className="p-5 text-soft">Reading the plans …</p>}
        {items && shown.length === 0 && (
          <p className="p-5 text-soft">
            {all.length === 0
              ? 'No clip of this batch has anything to repair.'
              : 'No step is left by this filter.'}
          </p>
        )}
        {shown.length > 0 && <Tasks tasks={shown} batchId={batchId} />}
      </div>
      <aside className="overflow-auto border-l border-ink px-4 py-3 text-sm">
        <Totals tasks={shown} />
        <Downloads of={`/api/batches/${batchId}`} />
      </aside>
    </main>
  );
};

const Tasks = ({ tasks, batchId }: { tasks: readonly Task[]; batchId: string }) => {
  const groups = togetherWith(tasks);
  const most = Math.max(...tasks.map((t) => t.gain));
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5">
      <table className="w-full text-sm">
        <thead className="heading sticky top-0 bg-sheet">
          <tr className="border-b border-ink whitespace-nowrap">
            <th className="py-1 text-left">Gain for effort</th>
            <th className="text-left">Treatment</th>
            <th className="text-left">Clip</th>
            <th className="text-left">From, to</th>
            <th className="pr-4 text-right">Sev.</th>
            <th className="pr-4 text-right">Work</th>
            <th className="text-right">Render</th>
            <th className="pl-4 text-left">Together with</th>
          </tr>
        </thead>
        <tbody>
          {tasks.map(({ item, step, severity, renderMinutes, gain }) => {
            const others = (groups.get(groupOf(item, step)) ?? 1) - 1;
            return (
              <tr key={`${item.clipId} ${step.treatment}`} className="border-b border-hair align-baseline">
                <td className="py-1 pr-3 whitespace-nowrap">
                  <span
                    className="inline-block h-2.5 bg-ink align-middle"
                    style={{ width: `${Math.max(2, (gain / most) * 70)}px` }}
                  />{' '}
                  {gain.toFixed(1)}
                </td>
                <td className="pr-2 font-semibold whitespace-nowrap">{TREATMENT_NAMES[step.treatment]}</td>
                <td className="pr-2">
                  <Link className="hover:underline" to={`/batches/${batchId}/clips/${item.clipId}/plan`}>
                    {item.clip}
                  </Link>
                  <span className="block text-xs text-soft">
                    step {step.order} of {item.plan.steps.length}
                    {item.plan.assignee && `, ${item.plan.assignee}`}
                    {item.plan.approved && ', approved'}
                  </span>
                </td>
                <td className="pr-2">
                  {findingName({ defect: step.defect, reading: step.expect.reading })}{' '}
                  <span className="whitespace-nowrap">{amount(step.expect.from, step.expect.unit)}</span> →{' '}
                  <span className="whitespace-nowrap">{amount(step.expect.to, step.expect.unit)}</span>
                </td>
                <td className="pr-4 text-right">{severity}</td>
                <td className="pr-4 text-right whitespace-nowrap">{step.cost.artistMinutes} min</td>
                <td className="text-right whitespace-nowrap">{renderMinutes.toFixed(1)} min</td>
                <td className="pl-4 text-soft" title={item.alike}>
                  {others > 0 ? `${others} alike` : ''}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
};

const Totals = ({ tasks }: { tasks: readonly Task[] }) => {
  const work = tasks.reduce((n, t) => n + t.step.cost.artistMinutes, 0);
  const render = tasks.reduce((n, t) => n + t.renderMinutes, 0);
  const clips = new Set(tasks.map((t) => t.item.clipId)).size;
  return (
    <dl className="grid grid-cols-[1fr_auto] gap-y-1">
      <dt>Steps</dt>
      <dd className="text-right font-semibold">{tasks.length}</dd>
      <dt>Clips</dt>
      <dd className="text-right font-semibold">{clips}</dd>
      <dt>Work of an artist</dt>
      <dd className="text-right font-semibold">{Math.round(work)} min</dd>
      <dt>Rendering</dt>
      <dd className="text-right font-semibold">{Math.round(render)} min</dd>
    </dl>
  );
};
