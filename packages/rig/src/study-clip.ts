import { closeUpStudy } from './scene/close-up.js';
import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, rename, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { encodeFrames, CODECS, HD_COLOUR, type Codec, type Storage } from '@bevrin/media';
import { rationalToNumber } from '@bevrin/contract';
import { pixelFormatName, stepsOf, type PictureFormat } from './camera/format.js';
import { both, changing, fading, flash, pulsing, steady, unsteady, type Light } from './camera/light.js';
import type { Sharpening } from './camera/sharpen.js';
import { handHeld, jolts, lockedOff, panning, combined, zooming, type CameraPath } from './camera/path.js';
import type { LensSpot, Speck } from './camera/dirt.js';
import type { LensShape } from './camera/lens.js';
import { cleanSensor, type SensorFault } from './camera/sensor.js';
import { seeded } from './random.js';
import type { ClipRecipe } from './recipe.js';
import { renderFrames, type RenderTruth } from './render.js';
import type { Scene } from './scene/scene.js';
import {
  bricksStudy,
  clothStudy,
  cloudsStudy,
  duskStudy,
  foliageStudy,
  layer,
  nightStudy,
  shoreStudy,
  streamStudy,
  wallStudy,
  walker,
} from './scene/studies.js';

/** A test clip in words: plain data, so that the rendered file can be kept under its content. */
export interface StudyClip {
  readonly study:
    'foliage' | 'wall' | 'night' | 'dusk' | 'cloth' | 'bricks' | 'clouds' | 'shore' | 'stream' | 'close-up';
  readonly width: number;
  readonly height: number;
  readonly frames: number;
  readonly frameRate?: ClipRecipe['frameRate'];
  readonly camera?: {
    handPx?: number;
    handDeg?: number;
    panPx?: number;
    tiltPx?: number;
    zoomPerSec?: number;
    joltsAtSec?: readonly number[];
    joltPx?: number;
  };
  readonly light?: {
    pulseHz?: number;
    depth?: number;
    unsteady?: number;
    fadeFromSec?: number;
    fadeToSec?: number;
    flashAtSec?: number;
    /** The exposure changes to this share of what it was, between these instants; at once where they are the same. */
    changeFromSec?: number;
    changeToSec?: number;
    changeTo?: number;
  };
  readonly shutter?: number;
  readonly readout?: number;
  readonly noisePct?: readonly [number, number, number];
  readonly grainSigmaPx?: number;
  readonly fixedPatternPct?: number;
  readonly shadowLift?: number;
  readonly faults?: readonly SensorFault[];
  /** Whether they are faults of a mosaic's sites. */
  readonly faultsInMosaic?: boolean;
  /** A person that walks through, this share of the height tall. */
  readonly subject?: { tall: number; pxPerSec: number };
  /** Another scene from this frame on, into which the first dissolves over so many frames. */
  readonly cutTo?: { study: StudyClip['study']; atFrame: number; dissolve?: number };
  readonly format?: PictureFormat;
  readonly codec?: Codec;
  readonly lensSigmaPx?: number;
  readonly lensShape?: LensShape;
  /** Out of focus between these frames: the lens blur there. */
  readonly softBetween?: { from: number; to: number; sigmaPx: number };
  readonly aperture?: number;
  readonly mosaic?: boolean;
  /** How fine the cloth of the study `cloth` is woven. */
  readonly cloth?: { cyclesPerPx: number; coloured?: boolean };
  readonly spots?: readonly LensSpot[];
  readonly specks?: readonly Speck[];
  readonly sharpened?: Sharpening;
  readonly signalBits?: number;
  readonly barRows?: number;
  readonly repeatEvery?: number;
  readonly dropBefore?: readonly number[];
  /** Rows of each frame exposed in two fields, this one first, in a file that says progressive. */
  readonly fields?: 'top' | 'bottom';
  /** Blown up to this size once it is drawn. */
  readonly enlargeTo?: { readonly width: number; readonly height: number };
  readonly seed: number;
}

const sceneOf = (
  study: StudyClip['study'],
  width: number,
  height: number,
  seed: number,
  margin: number,
  cloth: StudyClip['cloth'],
): Scene => {
  switch (study) {
    case 'foliage':
      return foliageStudy(width, height, seed, margin);
    case 'wall':
      return wallStudy(width, height, seed, margin);
    case 'night':
      return nightStudy(width, height, seed, margin);
    case 'dusk':
      return duskStudy(width, height, seed, margin);
    case 'bricks':
      return bricksStudy(width, height, seed, margin);
    case 'clouds':
      return cloudsStudy(width, height, seed, margin);
    case 'close-up':
      return closeUpStudy(width, height, seed, margin);
    case 'stream':
      return streamStudy(width, height, seed, margin);
    case 'shore':
      return shoreStudy(width, height, seed, margin);
    case 'cloth':
      return clothStudy(width, height, seed, margin, cloth?.cyclesPerPx ?? 0.2, cloth?.coloured ?? false);
  }
};

const cameraOf = ({ camera = {}, seed }: StudyClip): CameraPath =>
  combined(
    camera.handPx || camera.handDeg
      ? handHeld(camera.handPx ?? 0.001, camera.handDeg ?? 0.001, seed + 5)
      : lockedOff,
    panning(camera.panPx ?? 0, camera.tiltPx ?? 0),
    zooming(camera.zoomPerSec ?? 0),
    jolts(camera.joltsAtSec ?? [], camera.joltPx ?? 0, 0.06),
  );

const lightOf = ({ light = {}, frameRate = '25/1', seed }: StudyClip): Light => {
  const parts: Light[] = [steady];
  if (light.pulseHz && light.depth) parts.push(pulsing(light.pulseHz, light.depth, 0.7));
  if (light.unsteady) parts.push(unsteady(light.unsteady, rationalToNumber(frameRate), seed + 9));
  if (light.fadeFromSec !== undefined && light.fadeToSec !== undefined)
    parts.push(fading(light.fadeFromSec, light.fadeToSec));
  if (light.changeTo !== undefined)
    parts.push(changing(light.changeFromSec ?? 0, light.changeToSec ?? 0, light.changeTo));
  if (light.flashAtSec !== undefined) parts.push(flash(light.flashAtSec, 0.04, 1.6));
  return parts.reduce(both);
};

const withSubject = (scene: Scene, clip: StudyClip): Scene => {
  if (!clip.subject) return scene;
  const { tall, pxPerSec } = clip.subject;
  const texture = walker(clip.height * tall, clip.seed + 77, [0.35, 0.3, 0.28]);
  const place = (t: number): { x: number; y: number } => ({
    x: -clip.width * 0.75 + pxPerSec * t,
    y: clip.height * (1 - tall) * 0.5,
  });
  return { ...scene, layers: [...scene.layers, layer(texture, 1, place)] };
};

const lensOf = ({ lensSigmaPx = 0.6, softBetween }: StudyClip): ClipRecipe['lensSigmaPx'] =>
  softBetween
    ? (frame) => (frame >= softBetween.from && frame <= softBetween.to ? softBetween.sigmaPx : lensSigmaPx)
    : lensSigmaPx;

/** The full recipe of a study clip. */
export const studyRecipe = (clip: StudyClip): ClipRecipe => {
  const { width, height, seed } = clip;
  const room = (clip.camera?.handPx ?? 0) * 4 + (clip.camera?.joltPx ?? 0) + 24;
  const seconds = clip.frames / rationalToNumber(clip.frameRate ?? '25/1');
  const margin = Math.ceil(
    room + Math.max(Math.abs(clip.camera?.panPx ?? 0), Math.abs(clip.camera?.tiltPx ?? 0)) * seconds,
  );
  const scene = withSubject(sceneOf(clip.study, width, height, seed, margin, clip.cloth), clip);
  const shots: ClipRecipe['shots'][number][] = [{ startFrame: 0, scene, camera: cameraOf(clip) }];
  if (clip.cutTo)
    shots.push({
      startFrame: clip.cutTo.atFrame,
      dissolve: clip.cutTo.dissolve,
      scene: sceneOf(clip.cutTo.study, width, height, seed + 1, margin, clip.cloth),
      camera: cameraOf(clip),
    });
  return {
    width,
    height,
    frameRate: clip.frameRate ?? '25/1',
    frames: clip.frames,
    shots,
    shutter: clip.shutter ?? 0.5,
    readout: clip.readout ?? 0,
    light: lightOf(clip),
    lensSigmaPx: lensOf(clip),
    ...(clip.lensShape && { lensShape: clip.lensShape }),
    aperture: clip.aperture,
    mosaic: clip.mosaic,
    spots: clip.spots,
    specks: clip.specks,
    sharpened: clip.sharpened,
    signalBits: clip.signalBits,
    barRows: clip.barRows,
    repeatEvery: clip.repeatEvery,
    dropBefore: clip.dropBefore,
    sensor: {
      ...cleanSensor,
      noisePct: clip.noisePct ?? [0, 0, 0],
      grainSigmaPx: clip.grainSigmaPx ?? 0,
      fixedPatternPct: clip.fixedPatternPct ?? 0,
      shadowLift: clip.shadowLift ?? 0,
      faults: clip.faults ?? [],
      faultsInMosaic: clip.faultsInMosaic,
    },
    format: clip.format ?? { bitDepth: 8, chroma: '420' },
    seed,
  };
};

/** Faults at random places, well apart, of the kinds and channels in turn. */
export const scatterFaults = (
  count: number,
  width: number,
  height: number,
  seed: number,
  level = 0.45,
): SensorFault[] => {
  const random = seeded(seed);
  const faults: SensorFault[] = [];
  for (let tries = 0; faults.length < count && tries < 10_000; tries++) {
    const x = 8 + Math.floor(random() * (width - 16));
    const y = 8 + Math.floor(random() * (height - 16));
    if (faults.some((f) => Math.hypot(f.x - x, f.y - y) < 12)) continue;
    const n = faults.length;
    const kind = n % 6 === 4 ? 'dead' : n % 6 === 5 ? 'stuck' : 'hot';
    const channel =
      kind === 'dead' ? 'luma' : (['luma', 'red', 'luma', 'blue', 'luma', 'green'] as const)[n % 6];
    faults.push({ x, y, kind, channel, level: kind === 'stuck' ? 0.97 : level * (0.6 + 0.8 * random()) });
  }
  return faults;
};

/** Bytes of a frame whose even rows come from one picture, the odd ones from another, plane by plane. */
const woven = (even: Uint8Array, odd: Uint8Array, { width, height, format }: ClipRecipe): Uint8Array => {
  const bytes = format.bitDepth === 8 ? 1 : 2;
  const [across, down] = stepsOf(format);
  const chroma = [Math.ceil(width / across), Math.ceil(height / down)];
  const out = even.slice();
  let at = 0;
  for (const [w, h] of [[width, height], chroma, chroma]) {
    const row = w * bytes;
    for (let y = 1; y < h; y += 2) out.set(odd.subarray(at + y * row, at + (y + 1) * row), at + y * row);
    at += row * h;
  }
  return out;
};

/** Draws a clip in fields: twice as many instants, two of them woven into each frame. */
function* renderFields(recipe: ClipRecipe, first: 'top' | 'bottom'): ReturnType<typeof renderFrames> {
  const [rate, per] = recipe.frameRate.split('/').map(Number);
  const each = renderFrames({ ...recipe, frames: 2 * recipe.frames, frameRate: `${2 * rate}/${per}` });
  for (;;) {
    const early = each.next();
    if (early.done) return early.value;
    const kept = early.value.slice();
    const late = each.next();
    if (late.done) return late.value;
    yield first === 'top' ? woven(kept, late.value, recipe) : woven(late.value, kept, recipe);
  }
}

/**
 * Renders a recipe into a file.
 * @param drawn its frames, where they are not drawn one by one
 */
export const renderClip = async (
  recipe: ClipRecipe,
  codec: Codec,
  path: string,
  storage: Storage = {},
  drawn = renderFrames(recipe),
): Promise<RenderTruth> => {
  let truth: RenderTruth | null = null;
  const frames = function* (): Generator<Uint8Array> {
    truth = yield* drawn;
  };
  await mkdir(dirname(path), { recursive: true });
  const { width, height, frameRate, format } = recipe;
  await encodeFrames(
    {
      width,
      height,
      frameRate,
      pixelFormat: pixelFormatName(format),
      colour: { ...HD_COLOUR, ...(format.range && { range: format.range }) },
    },
    codec,
    frames(),
    path,
    storage,
  );
  if (!truth) throw new Error(`The encoder stopped before ${path} was complete.`);
  return truth;
};

export interface RenderedStudy {
  readonly path: string;
  readonly truth: RenderTruth;
}

const here = dirname(fileURLToPath(import.meta.url));
const CACHE = join(here, '..', '..', '..', '.cache', 'clips');
let rigVersion: Promise<string> | null = null;

/** Renders a study clip, or finds it in the cache, which is keyed by the clip's words and the rig's own source. */
export const renderStudy = async (clip: StudyClip): Promise<RenderedStudy> => {
  rigVersion ??= hashOfRig();
  const codec = clip.codec ?? 'h264Lossless';
  const key = createHash('sha256')
    .update(JSON.stringify(clip))
    .update(await rigVersion)
    .digest('hex')
    .slice(0, 24);
  const path = join(CACHE, `${key}.${CODECS[codec].ending}`);
  const words = `${path}.json`;
  if (existsSync(words)) return { path, truth: JSON.parse(await readFile(words, 'utf8')) as RenderTruth };
  const temporary = join(CACHE, `${key}.${process.pid}.${CODECS[codec].ending}`);
  const recipe = studyRecipe(clip);
  const drawn = clip.fields && renderFields(recipe, clip.fields);
  const { enlargeTo } = clip;
  const truth = await renderClip(recipe, codec, temporary, enlargeTo ? { enlargeTo } : {}, drawn);
  await rename(temporary, path);
  await writeFile(words, JSON.stringify(truth));
  return { path, truth };
};

const hashOfRig = async (): Promise<string> => {
  const hash = createHash('sha256');
  for (const folder of ['camera', 'scene']) {
    const names = (await readdir(join(here, folder))).filter((n) => !n.endsWith('.test.ts')).sort();
    for (const name of names) hash.update(await readFile(join(here, folder, name)));
  }
  for (const name of ['random.ts', 'render.ts', 'study-clip.ts'])
    hash.update(await readFile(join(here, name)));
  return hash.digest('hex');
};
