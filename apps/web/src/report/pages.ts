/// <reference types="vite/client" />
import { getDocument, GlobalWorkerOptions } from 'pdfjs-dist';
import workerUrl from 'pdfjs-dist/build/pdf.worker.min.mjs?url';

GlobalWorkerOptions.workerSrc = workerUrl;

export interface Pages {
  readonly count: number;
  /** Draws a page, from 1, as wide as it is told, px; and gives its text for those who cannot see it. */
  draw(page: number, canvas: HTMLCanvasElement, width: number): Promise<string>;
  close(): void;
}

/**
 * Opens a PDF for a look at its pages.
 * @throws {Error} with the server's own sentence where it has one
 */
export const openPages = async (address: string, signal: AbortSignal): Promise<Pages> => {
  const answer = await fetch(address, { signal });
  if (!answer.ok) throw new Error(((await answer.json()) as { error: string }).error);
  const loading = getDocument({ data: new Uint8Array(await answer.arrayBuffer()) });
  const pdf = await loading.promise;
  return {
    count: pdf.numPages,
    draw: async (number, canvas, width) => {
      const page = await pdf.getPage(number);
      const dense = window.devicePixelRatio || 1;
      const plain = page.getViewport({ scale: 1 });
      const viewport = page.getViewport({ scale: (width / plain.width) * dense });
      canvas.width = Math.floor(viewport.width);
      canvas.height = Math.floor(viewport.height);
      const canvasContext = canvas.getContext('2d');
      if (canvasContext) await page.render({ canvasContext, viewport }).promise;
      const { items } = await page.getTextContent();
      return items.map((i) => ('str' in i ? i.str : '')).join(' ');
    },
    close: () => void loading.destroy(),
  };
};
