import {
  SUBJECT_NAMES,
  TREATMENT_NAMES,
  type Decision,
  type DecisionMade,
  type Overrides,
  type ViewingTransform,
} from '@bevrin/contract';
import { whenText } from '../parts/format.js';
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
            {who}, {whenText(at)}
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
    case 'notDefect':
      return `${findingName(decision)} is no defect: ${decision.reason}`;
    case 'overrule':
      return overruledText(decision.overrides);
    case 'frameNote':
      return `Note on frame ${decision.frame}: ${decision.text}`;
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

/** What a measurement is made under, in one sentence. */
export const overruledText = ({ range, intent, noisePatch, masks, interest, viewing }: Overrides): string => {
  const parts = [
    range && `frames ${range.startFrame} to ${range.endFrame}`,
    intent && `the camera was meant to be ${intent}`,
    noisePatch && 'a flat patch drawn',
    masks?.length && `${masks.length} ${masks.length === 1 ? 'mask' : 'masks'}`,
    interest && 'a region of interest',
    viewing && viewingText(viewing),
  ].filter(Boolean);
  return parts.length > 0 ? `Measured with: ${parts.join(', ')}.` : 'Measured as the machine left to itself.';
};

export const viewingText = (viewing: ViewingTransform): string => {
  switch (viewing.kind) {
    case 'cube':
      return `viewing transform ${viewing.name}`;
    case 'lift':
      return `raised by ${viewing.stops} stops`;
    case 'liftGain':
      return `lift ${viewing.lift}, gain ${viewing.gain}`;
  }
};
