const FILES = [
  ['sheet.pdf', 'Sheet to print, PDF'],
  ['timeline.otio', 'Timeline with markers, OTIO'],
  ['markers.edl', 'Edit list with comments, EDL'],
  ['findings.csv', 'Findings, CSV'],
  ['steps.csv', 'Steps, CSV'],
  ['trials.json', 'Trials, JSON'],
  ['report.json', 'Everything, JSON'],
] as const;

/** Everything that leaves the house about a clip or a batch. */
export const Downloads = ({ of }: { of: string }) => (
  <section aria-label="Files" className="pt-4 text-sm">
    <h2 className="heading border-b border-ink pb-1">Hand over</h2>
    <ul>
      {FILES.map(([file, name]) => (
        <li key={file} className="border-b border-hair py-1">
          <a className="underline decoration-rule underline-offset-4" href={`${of}/out/${file}`}>
            {name}
          </a>
        </li>
      ))}
    </ul>
  </section>
);
