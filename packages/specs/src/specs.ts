import { readdir, readFile } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { DeliverySpec } from '@bevrin/contract';
import { printable } from '@bevrin/contract';

/** A delivery spec that is not there or does not say what a spec must. */
export class SpecUnusable extends Error {
  override readonly name = 'SpecUnusable';
}

/** The delivery spec that is judged by where nobody names one. */
export const DEFAULT_SPEC = 'broadcast-hd';
const SHIPPED = join(dirname(fileURLToPath(import.meta.url)), '..', '..', '..', 'specs');

/**
 * Reads a delivery spec from its file.
 * @throws {SpecUnusable} naming the file and the field that is wrong
 */
export const readSpec = async (path: string): Promise<DeliverySpec> => {
  const name = printable(basename(path));
  const text = await readFile(path, 'utf8').catch(() => {
    throw new SpecUnusable(`${name}: there is no such delivery spec. Check the path.`);
  });
  const parsed = DeliverySpec.safeParse(fromJson(text, name));
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  throw new SpecUnusable(
    `${name}: this is not a usable delivery spec: ${issue.path.join('.') || 'the whole'}: ${issue.message}. Correct the file.`,
  );
};

const fromJson = (text: string, name: string): unknown => {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new SpecUnusable(`${name}: this is not JSON (${(error as Error).message}). Correct the file.`);
  }
};

/** The delivery specs that come with Bevrin, by id. */
export const shippedSpecs = async (): Promise<ReadonlyMap<string, DeliverySpec>> => {
  const names = (await readdir(SHIPPED)).filter((n) => extname(n) === '.json').sort();
  const specs = await Promise.all(names.map((n) => readSpec(join(SHIPPED, n))));
  return new Map(specs.map((s) => [s.id, s]));
};

/**
 * Finds a delivery spec by the id of a shipped one or by its file.
 * @throws {SpecUnusable}
 */
export const findSpec = async (idOrFile: string): Promise<DeliverySpec> => {
  const shipped = await shippedSpecs();
  const found = shipped.get(idOrFile);
  if (found) return found;
  if (/[./]/.test(idOrFile)) return readSpec(idOrFile);
  throw new SpecUnusable(
    `There is no delivery spec "${printable(idOrFile)}". Choose one of ${[...shipped.keys()].join(', ')}, or give a file.`,
  );
};
