/** The name of a file without its ending, in words. */
const wordsOf = (name: string): string[] =>
  name
    .replace(/\.[^.]*$/, '')
    .toLowerCase()
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/**
 * The clips that a repaired file may be made of by its name: it begins with all words of theirs, and says something more or
 * has another ending. Of several the ones with the most words.
 * @returns one where the name is certain, several where it fits them alike, none where it fits no clip
 */
export const clipsNamed = <T extends { readonly name: string }>(file: string, clips: readonly T[]): T[] => {
  const words = wordsOf(file);
  let most = 0;
  let found: T[] = [];
  for (const clip of clips) {
    const own = wordsOf(clip.name);
    if (own.length === 0 || own.length < most || !own.every((word, i) => words[i] === word)) continue;
    if (own.length > most) found = [];
    most = own.length;
    found.push(clip);
  }
  return found;
};
