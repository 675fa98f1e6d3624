import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';

/** The words of a PDF, page after page, with single spaces between them. */
export const textOfPdf = async (bytes: ArrayBuffer): Promise<string> => {
  const pdf = await getDocument({ data: new Uint8Array(bytes), verbosity: 0 }).promise;
  let text = '';
  for (let n = 1; n <= pdf.numPages; n++) {
    const { items } = await (await pdf.getPage(n)).getTextContent();
    text += ` ${items.map((i) => ('str' in i ? i.str : '')).join(' ')}`;
  }
  return text.replaceAll(/\s+/g, ' ');
};
