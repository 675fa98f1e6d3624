import { SUBJECT_NAMES, TREATMENT_NAMES, type Decision, type DecisionMade } from '@bevrin/contract';
import { findingName } from '../parts/names.js';

/** What was decided, by whom and when; what was taken back stays to be read. */
export const History = ({ history }: { history: readonly DecisionMade[] }) => (
  <section aria-label="History" className="pt-4 text-sm">
    <h2 className="heading border-b border-ink pb-1">History</h2>
    {history.length === 0 && (
      <p className="py-1 text-soft">As the rules proposed it; nobody has changed it.</p>
    )}
    <ol>
      {[...history].reverse().map(({ id, who, at, undone, decision }) => (
        <li key={id} className="border-b border-hair py-1">
          <span className={undone ? 'text-soft line-through' : ''}>{said(decision)}</span>{' '}
          <span className="text-soft">
            {who}, {at.slice(0, 16).replace('T', ' ')}
            {undone && ', taken back'}
          </span>
        </li>
      ))}
    </ol>
  </section>
);

const said = (decision: Decision): string => {
  switch (decision.kind) {
    case 'order':
      return `Order: ${decision.treatments.map((t) => TREATMENT_NAMES[t].toLowerCase()).join(', ')}.`;
    case 'settings':
      return `${TREATMENT_NAMES[decision.treatment]}: settings changed.`;
    case 'drop':
      return `${TREATMENT_NAMES[decision.treatment]} dropped: ${decision.reason}`;
    case 'keep':
      return `${TREATMENT_NAMES[decision.treatment]} taken up again.`;
    case 'add':
      return `${TREATMENT_NAMES[decision.treatment]} added: ${decision.reason}`;
    case 'waive':
      return `${findingName(decision) || SUBJECT_NAMES[decision.defect]} waived: ${decision.reason}`;
    case 'note':
      return `Note on ${TREATMENT_NAMES[decision.treatment].toLowerCase()}: ${decision.text}`;
    case 'assign':
      return decision.to ? `Assigned to ${decision.to}.` : 'Assigned to nobody.';
    case 'approve':
      return 'Approved.';
    case 'reopen':
      return 'Opened again.';
  }
};
