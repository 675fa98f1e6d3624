import { useState, type FormEvent } from 'react';

/** Asks why: nothing is dropped or waived without a reason. */
export const Reason = ({
  label,
  action,
  placeholder = 'reason',
  onGive,
  onLeave,
}: {
  label: string;
  action: string;
  placeholder?: string;
  onGive: (reason: string) => void;
  /** Closes the question without an answer. */
  onLeave?: () => void;
}) => {
  const [text, setText] = useState('');
  const give = (event: FormEvent): void => {
    event.preventDefault();
    if (text.trim() !== '') onGive(text.trim());
  };
  return (
    <form onSubmit={give} className="my-1 flex gap-2">
      <input
        autoFocus
        aria-label={label}
        placeholder={placeholder}
        className="field min-w-0 flex-1"
        value={text}
        onChange={(e) => setText(e.target.value)}
        required
      />
      <button className="button">{action}</button>
      {onLeave && (
        <button type="button" className="button" onClick={onLeave}>
          Leave
        </button>
      )}
    </form>
  );
};
