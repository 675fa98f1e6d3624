/** An action that is worded as a part of a sentence. */
export const Take = ({ onClick, children }: { onClick: () => void; children: React.ReactNode }) => (
  <button type="button" className="underline decoration-rule underline-offset-4" onClick={onClick}>
    {children}
  </button>
);
