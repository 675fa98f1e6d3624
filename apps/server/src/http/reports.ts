import { Router, type Response } from 'express';
import type { PictureStore } from '../clips/picture-store.js';
import type { PlanStore, PlannedClip } from '../plans/plans.js';
import { Problem } from './problem.js';
import type { TrialStore } from '../trials/trial-store.js';
import { edlOf } from '../reports/edl.js';
import type { SheetClip } from '../reports/clip-sheet.js';
import { sheetOf } from '../reports/sheet.js';
import type { FrameStore } from '../frames/frames.js';
import { findingsCsv, stepsCsv } from '../reports/tables.js';
import { timelineOf } from '../reports/timeline.js';
import type { AlignedFrames } from '../frames/aligned-frames.js';
import { printedRecheck } from '../frames/recheck-evidence.js';
import type { RecheckStore } from '../rechecks/recheck-store.js';
import { findingName, type Report } from '@bevrin/contract';
import { worstMomentOf } from '@bevrin/core';

/** What the files are made of. */
interface Sources {
  readonly frames: FrameStore;
  readonly pictures: PictureStore;
  readonly trials: TrialStore;
  readonly rechecks: RecheckStore;
  readonly aligned: AlignedFrames;
}

type Write = (report: Report, clips: readonly PlannedClip[], response: Response) => void | Promise<void>;

/** Everything that leaves the house, by the name of its file. */
const files = (sources: Sources): Record<string, Write> => ({
  'findings.csv': (report, _clips, response) => void response.type('csv').send(findingsCsv(report)),
  'steps.csv': (report, _clips, response) => void response.type('csv').send(stepsCsv(report)),
  'report.json': (report, _clips, response) => void response.json(report),
  'trials.json': async (_report, clips, response) => {
    const of = await sources.trials.kept(clips.map((c) => c.id));
    response.json(clips.flatMap(({ id }) => of(id).map((t) => t.trial)));
  },
  'timeline.otio': (report, clips, response) =>
    void response.type('json').send(
      JSON.stringify(
        timelineOf(report, (c) => clips.find((p) => p.report === c)?.path ?? null),
        null,
        2,
      ),
    ),
  'markers.edl': (report, _clips, response) => void response.type('text/plain').send(edlOf(report)),
  'sheet.pdf': async (report, clips, response) => {
    const sheets: SheetClip[] = [];
    for (const clip of clips)
      sheets.push({
        report: clip.report,
        measurement: clip.measurement,
        poster: clip.poster && sources.pictures.pathOf(clip.poster),
        evidence: await evidenceOf(clip, sources.frames),
        tried: await triedOf(clip, sources.frames),
        rechecks: await returnsOf(clip, sources),
      });
    response.type('pdf');
    sheetOf(report, sheets).pipe(response);
  },
});

export const reportRoutes = (plans: PlanStore, sources: Sources): Router => {
  const writers = files(sources);
  const send = async (
    name: string,
    file: string,
    report: Report,
    clips: readonly PlannedClip[],
    to: Response,
  ): Promise<void> => {
    const write = writers[file];
    if (!write)
      throw new Problem(404, `There is no file "${file}". Choose one of ${Object.keys(writers).join(', ')}.`);
    // A sheet is looked at; everything else is kept.
    if (file === 'sheet.pdf') to.set('content-disposition', 'inline');
    else to.attachment(`${name} ${file}`);
    await write(report, clips, to);
  };
  return Router()
    .get('/batches/:id/out/:file', async (request, response) => {
      const { batch, clips } = await plans.plannedOf(request.params.id);
      await send(batch.name, request.params.file, reportOn(batch, clips), clips, response);
    })
    .get('/clips/:id/out/:file', async (request, response) => {
      const { batch, clip } = await plans.planned(request.params.id);
      await send(clip.report.clip.file, request.params.file, reportOn(batch, [clip]), [clip], response);
    });
};

const reportOn = (
  { name, production }: { name: string; production: string },
  clips: readonly PlannedClip[],
): Report => ({ schema: 'bevrin.report/1', batch: name, production, clips: clips.map((c) => c.report) });

/** Of each step that was tried a place before and after; one whose frames were dropped does without. */
const triedOf = async ({ id, report }: PlannedClip, frames: FrameStore): Promise<SheetClip['tried']> => {
  const pictures: SheetClip['tried'] = {};
  for (const { treatment, tried } of report.plan.steps) {
    if (!tried || tried.run === null) continue;
    const pair = await frames.beforeAfter(id, tried.trial, tried.run).catch(() => null);
    if (pair) pictures[treatment] = pair;
  }
  return pictures;
};

/** The newest repaired file that was rechecked: what came before it is history. */
const returnsOf = async (
  { id }: PlannedClip,
  { rechecks, frames, aligned }: Sources,
): Promise<SheetClip['rechecks']> => {
  const newest = (await rechecks.ofClip(id)).findLast((r) => r.recheck !== null);
  const printed = newest ? await printedRecheck(newest, frames, aligned) : null;
  return printed ? [printed] : [];
};

const MOST_PICTURES = 4;

/** Pictures of what fails, where and when it is at its worst; a clip whose file has gone does without. */
const evidenceOf = async (
  { id, report, measurement }: PlannedClip,
  frames: FrameStore,
): Promise<SheetClip['evidence']> => {
  const wanted = report.findings
    .filter((f) => f.verdict !== 'pass' && f.value !== null)
    .flatMap((f) => {
      const worst = f.defect === 'conform' ? null : worstMomentOf(measurement, f.defect);
      return worst ? [{ ...worst, finding: f }] : [];
    })
    .slice(0, MOST_PICTURES);
  const pictures: { path: string; caption: string }[] = [];
  for (const { frame, region, finding } of wanted) {
    const path = await frames.evidence(id, frame, region).catch(() => null);
    if (path) pictures.push({ path, caption: `${findingName(finding)}, frame ${frame}` });
  }
  return pictures;
};
