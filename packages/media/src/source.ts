import { open, readdir, stat } from 'node:fs/promises';
import { basename, dirname, extname, join, resolve } from 'node:path';
import { ClipUnreadable } from './errors.js';

/** Something that can be decoded: a media file, or stills that are numbered one after another. */
export interface Source {
  readonly path: string;
  /** How the decoder is told to open it, `-i` included. */
  readonly input: readonly string[];
  /** For numbered stills: how many there are. Their rate is not written anywhere. */
  readonly stills: number | null;
  /** The files that it is read from, in their order. */
  readonly files: readonly string[];
}

/** Stills carry no rate; this one is assumed, and the document says so. */
export const ASSUMED_STILLS_RATE = '25/1';

const STILL_ENDINGS = new Set(['.png', '.tif', '.tiff', '.dpx', '.jpg', '.jpeg', '.exr']);
/** Containers and streams that hold pictures. Playlists and scripts that name other files are not opened. */
const FORMATS =
  'mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,mxf,mxf_opatom,avi,mpeg,mpegts,mpegvideo,m4v,h264,hevc,av1,obu,ivf,yuv4mpegpipe,flv,asf,dv,gxf,ogg,nut,wav,mp3,flac,aac,' +
  'image2,png_pipe,tiff_pipe,dpx_pipe,jpeg_pipe,exr_pipe';
const GUARDED = ['-protocol_whitelist', 'file,pipe', '-format_whitelist', FORMATS];
/** Numbers of stills this long are a pattern such as `%06d`. */
const PATTERN = /%0?\d*d/;

/**
 * Finds out what a path names.
 * @param path a media file, a folder of numbered stills, or a pattern such as `shot.%04d.png`
 * @throws {ClipUnreadable} when there is nothing there, it is empty, or stills are missing in between
 */
export const openSource = async (path: string): Promise<Source> => {
  const found = await stat(path).catch((error: NodeJS.ErrnoException) => error);
  if (found instanceof Error) {
    if (found.code === 'ENOENT' && PATTERN.test(basename(path))) return patternSource(path);
    throw new ClipUnreadable(path, ...WHY_NOT_OPEN(found));
  }
  if (found.isDirectory()) return folderSource(path);
  if (!found.isFile())
    throw new ClipUnreadable(
      path,
      'this is not a file.',
      'Give a media file, or a folder of numbered stills.',
    );
  if (found.size === 0)
    throw new ClipUnreadable(path, 'the file is empty (0 bytes).', 'Ask the sender for it again.');
  await mustBeReadable(path);
  const literal = STILL_ENDINGS.has(extname(path).toLowerCase())
    ? ['-f', 'image2', '-pattern_type', 'none']
    : [];
  return {
    path,
    input: [...GUARDED, ...literal, '-i', `file:${resolve(path)}`],
    stills: null,
    files: [path],
  };
};

const WHY_NOT_OPEN = (error: NodeJS.ErrnoException): [string, string] => {
  switch (error.code) {
    case 'ENOENT':
    case 'ENOTDIR':
      return ['there is no such file.', 'Check the path.'];
    case 'EACCES':
    case 'EPERM':
      return ['the file may not be read by this user.', 'Change its permissions.'];
    case 'ENAMETOOLONG':
      return ['the name is too long for this disk.', 'Give the file a shorter name.'];
    default:
      return [`the file cannot be opened (${error.code ?? error.message}).`, 'Check the disk it is on.'];
  }
};

const mustBeReadable = async (path: string): Promise<void> => {
  try {
    await (await open(path)).close();
  } catch (error) {
    throw new ClipUnreadable(path, ...WHY_NOT_OPEN(error as NodeJS.ErrnoException));
  }
};

const folderSource = async (folder: string): Promise<Source> => {
  const runs = new Map<string, number>();
  for (const name of await readdir(folder)) {
    const split = splitNumber(name);
    if (split) runs.set(split.pattern, (runs.get(split.pattern) ?? 0) + 1);
  }
  const longest = [...runs].sort((a, b) => b[1] - a[1] || a[0].localeCompare(b[0]))[0];
  if (!longest)
    throw new ClipUnreadable(
      folder,
      'the folder holds no numbered stills (PNG, TIFF, DPX, JPEG).',
      'Give a media file, or a folder of numbered stills.',
    );
  return patternSource(join(folder, longest[0]));
};

/** `shot.0042.png` → `shot.%04d.png`, 42. A percent sign of the name itself is doubled. */
const splitNumber = (name: string): { pattern: string; number: number } | null => {
  if (!STILL_ENDINGS.has(extname(name).toLowerCase())) return null;
  const match = /^(.*?)(\d+)(\.[^.\d]+)$/.exec(name);
  if (!match) return null;
  const [, head, digits, ending] = match;
  const pattern = `${head.replaceAll('%', '%%')}%0${digits.length}d${ending}`;
  return { pattern, number: Number(digits) };
};

const patternSource = async (path: string): Promise<Source> => {
  const folder = dirname(path);
  const wanted = basename(path);
  const found: { number: number; file: string }[] = [];
  for (const name of await readdir(folder).catch(() => [] as string[])) {
    const split = splitNumber(name);
    if (split && sameNaming(split.pattern, wanted))
      found.push({ number: split.number, file: join(folder, name) });
  }
  found.sort((a, b) => a.number - b.number);
  const numbers = found.map((f) => f.number);
  if (numbers.length === 0)
    throw new ClipUnreadable(
      path,
      'there are no stills with this name.',
      'Check the path and the number of digits.',
    );
  const gap = numbers.find((n, i) => n !== numbers[0] + i);
  if (gap !== undefined) {
    const missing = numbers[numbers.indexOf(gap) - 1] + 1;
    throw new ClipUnreadable(
      path,
      `still ${missing} is missing (${numbers.length} found, ${numbers[0]} to ${numbers[numbers.length - 1]}).`,
      'Ask the sender for it, or remove the stills after it.',
    );
  }
  const input = [
    ...GUARDED,
    '-f',
    'image2',
    '-framerate',
    ASSUMED_STILLS_RATE,
    '-start_number',
    String(numbers[0]),
    '-i',
    `file:${resolve(folder).replaceAll('%', '%%')}/${wanted}`,
  ];
  return { path, input, stills: numbers.length, files: found.map((f) => f.file) };
};

const sameNaming = (a: string, b: string): boolean =>
  a === b || a.replace(PATTERN, '%d') === b.replace(PATTERN, '%d');
