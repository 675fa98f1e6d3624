import { useRef, useState, type InputHTMLAttributes } from 'react';
import { useLeaving } from './useLeaving.js';

interface Props extends Omit<InputHTMLAttributes<HTMLInputElement>, 'value' | 'onChange'> {
  readonly saved: string;
  readonly onKeep: (text: string) => void;
}

/** A line that is kept when one presses Enter or goes away, from the field or from the page. */
export const KeptInput = ({ saved, onKeep, ...input }: Props) => {
  const [text, setText] = useState(saved);
  const kept = useRef(saved);
  const keep = (): void => {
    if (text === kept.current || input.disabled) return;
    kept.current = text;
    onKeep(text);
  };
  useLeaving(keep);
  return (
    <input
      {...input}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => e.key === 'Enter' && keep()}
    />
  );
};
