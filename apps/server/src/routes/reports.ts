import { join } from 'node:path';
import { Router, type Response } from 'express';
import type { ClipStore } from '../clips.js';
import type { PlanStore, PlannedClip } from '../plans.js';
import { Problem } from '../problem.js';
import { edlOf } from '../reports/edl.js';
import { sheetOf } from '../reports/sheet.js';
import { findingsCsv, stepsCsv } from '../reports/tables.js';
import { timelineOf } from '../reports/timeline.js';
import type { Report } from '@bevrin/contract';

type Write = (report: Report, clips: readonly PlannedClip[], response: Response) => void;

/** Everything that leaves the house, by the name of its file. */
const files = (store: ClipStore): Record<string, Write> => ({
  'findings.csv': (report, _clips, response) => void response.type('csv').send(findingsCsv(report)),
  'steps.csv': (report, _clips, response) => void response.type('csv').send(stepsCsv(report)),
  'report.json': (report, _clips, response) => void response.json(report),
  'timeline.otio': (report, clips, response) =>
    void response.type('json').send(
      JSON.stringify(
        timelineOf(report, (c) => clips.find((p) => p.report === c)?.path ?? null),
        null,
        2,
      ),
    ),
  'markers.edl': (report, _clips, response) => void response.type('text/plain').send(edlOf(report)),
  'sheet.pdf': (report, clips, response) => {
    response.type('pdf');
    sheetOf(
      report,
      clips.map(({ id, ...clip }) => ({ ...clip, poster: join(store.folderOf(id), 'poster.jpg') })),
    ).pipe(response);
  },
});

export const reportRoutes = (store: ClipStore, plans: PlanStore): Router => {
  const writers = files(store);
  const send = (
    name: string,
    file: string,
    report: Report,
    clips: readonly PlannedClip[],
    to: Response,
  ): void => {
    const write = writers[file];
    if (!write)
      throw new Problem(404, `There is no file "${file}". Choose one of ${Object.keys(writers).join(', ')}.`);
    // A sheet is looked at; everything else is kept.
    if (file === 'sheet.pdf') to.set('content-disposition', 'inline');
    else to.attachment(`${name} ${file}`);
    write(report, clips, to);
  };
  return Router()
    .get('/batches/:id/out/:file', async (request, response) => {
      const { batch, clips } = await plans.plannedOf(request.params.id);
      send(batch.name, request.params.file, reportOn(batch, clips), clips, response);
    })
    .get('/clips/:id/out/:file', async (request, response) => {
      const { batch, clip } = await plans.planned(request.params.id);
      send(clip.report.clip.file, request.params.file, reportOn(batch, [clip]), [clip], response);
    });
};

const reportOn = (
  { name, production }: { name: string; production: string },
  clips: readonly PlannedClip[],
): Report => ({ schema: 'bevrin.report/1', batch: name, production, clips: clips.map((c) => c.report) });
