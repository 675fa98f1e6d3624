import { useState, type FormEvent } from 'react';

/** Asks why: nothing is dropped or waived without a reason. */
export const Reason = ({
  label,
  action,
  onGive,
}: {
  label: string;
  action: string;
  onGive: (reason: string) => void;
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
        placeholder="reason"
        className="min-w-0 flex-1 border border-ink bg-slip px-1.5 py-0.5"
        value={text}
        onChange={(e) => setText(e.target.value)}
        required
      />
      <button className="button">{action}</button>
    </form>
  );
};
