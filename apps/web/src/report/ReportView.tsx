import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import { api, sayError } from '../api/client.js';
import { useCommands } from '../parts/commands.js';
import { Downloads } from '../parts/Downloads.js';
import type { Pages } from './pages.js';

/** Width of a page on the screen, px. */
const WIDE = 720;

/** What will be handed over, page by page as it prints, of a batch or of one of its clips. */
export const ReportView = () => {
  const { batchId = '' } = useParams();
  const [search, setSearch] = useSearchParams();
  const clipId = search.get('clip') ?? '';
  const { data: detail, error } = api.useBatchQuery(batchId);
  const of = clipId ? `/api/clips/${clipId}` : `/api/batches/${batchId}`;
  const scroller = useRef<HTMLDivElement>(null);
  const navigate = useNavigate();
  const measured = detail?.clips.filter((c) => c.summary) ?? [];
  const choose = (id: string): void => setSearch(id ? { clip: id } : {}, { replace: true });
  const step = (by: number): void => {
    const ids = ['', ...measured.map((c) => c.id)];
    choose(ids[Math.max(0, Math.min(ids.length - 1, ids.indexOf(clipId) + by))]);
  };
  const scroll = (pages: number): void => scroller.current?.scrollBy({ top: pages * WIDE * 1.2 });
  useCommands('Report', [
    { name: 'Next page', keys: ['pagedown', 'right'], run: () => scroll(1) },
    { name: 'Previous page', keys: ['pageup', 'left'], run: () => scroll(-1) },
    { name: 'Next clip', keys: 'down', run: () => step(1) },
    { name: 'Previous clip, or the whole batch', keys: 'up', run: () => step(-1) },
    { name: 'Save the sheet', keys: 's', run: () => window.open(`${of}/out/sheet.pdf`) },
    { name: 'Back to the batch', keys: 'esc', run: () => void navigate(`/batches/${batchId}`) },
  ]);
  return (
    <main className="grid min-h-0 flex-1 grid-cols-[1fr_19rem]">
      <div
        ref={scroller}
        tabIndex={0}
        aria-label="Pages"
        role="region"
        className="min-h-0 overflow-auto bg-desk p-6"
      >
        <PageStack key={of} address={`${of}/out/sheet.pdf`} />
      </div>
      <aside className="overflow-auto border-l border-ink bg-sheet px-4 py-3 text-sm">
        <h1 className="text-lg font-semibold">Report</h1>
        {error && <p role="alert">{sayError(error)}</p>}
        {detail && (
          <Link className="text-soft hover:underline" to={`/batches/${batchId}`}>
            {detail.batch.name}
          </Link>
        )}
        <label className="mt-3 block">
          <span className="heading block">Of</span>
          <select
            className="w-full field"
            value={clipId}
            onChange={(e) => {
              choose(e.target.value);
              e.target.blur();
            }}
          >
            <option value="">the whole batch</option>
            {measured.map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
          </select>
        </label>
        <Downloads of={of} />
      </aside>
    </main>
  );
};

const PageStack = ({ address }: { address: string }) => {
  const [pages, setPages] = useState<Pages | null>(null);
  const [failed, setFailed] = useState('');
  useEffect(() => {
    const gone = new AbortController();
    let opened: Pages | null = null;
    // The reader of PDF is only fetched when a page is looked at.
    void import('./pages.js')
      .then(({ openPages }) => openPages(address, gone.signal))
      .then((p) => {
        opened = p;
        if (gone.signal.aborted) p.close();
        else setPages(p);
      })
      .catch((error: Error) => {
        if (!gone.signal.aborted) setFailed(error.message);
      });
    return () => {
      gone.abort();
      opened?.close();
    };
  }, [address]);
  if (failed) return <p role="alert">{failed}</p>;
  if (!pages) return <p role="status">The pages are being set …</p>;
  return (
    <div className="mx-auto" style={{ width: WIDE }}>
      <p role="status" className="sr-only">
        {pages.count} {pages.count === 1 ? 'page' : 'pages'}
      </p>
      {Array.from({ length: pages.count }, (_, i) => (
        <Page key={i} pages={pages} number={i + 1} />
      ))}
    </div>
  );
};

/** A page, drawn when it comes into sight. */
const Page = ({ pages, number }: { pages: Pages; number: number }) => {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [text, setText] = useState('');
  useEffect(() => {
    const node = canvas.current;
    if (!node) return;
    const observer = new IntersectionObserver(([entry]) => {
      if (!entry.isIntersecting) return;
      observer.disconnect();
      pages.draw(number, node, WIDE).then(setText, () => undefined);
    });
    observer.observe(node);
    return () => observer.disconnect();
  }, [pages, number]);
  return (
    <section aria-label={`Page ${number}`} className="mb-6">
      <canvas
        ref={canvas}
        aria-hidden
        className="block border border-rule bg-white"
        style={{ width: WIDE, height: WIDE * Math.SQRT2 }}
      />
      <p className="sr-only">{text}</p>
    </section>
  );
};
