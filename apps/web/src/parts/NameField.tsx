import { useSignature } from './signature.js';

/** Who decides here. */
export const NameField = ({ missing = false }: { missing?: boolean }) => {
  const [who, sign] = useSignature();
  return (
    <label>
      <span className="heading block">Your name</span>
      <input
        className={`w-36 bg-slip px-1.5 py-0.5 ${missing ? 'border-2 border-ink' : 'border border-rule'}`}
        value={who}
        onChange={(e) => sign(e.target.value)}
      />
    </label>
  );
};
