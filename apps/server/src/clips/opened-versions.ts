import { basename } from 'node:path';
import { and, desc, eq, or } from 'drizzle-orm';
import { MEASURE_AGAIN, printable, type ClipDetail, type ClipFacts } from '@bevrin/contract';
import { openSource, probeClip } from '@bevrin/media';
import type { Database } from '../database/connect.js';
import { clips, measurements, versions, type VersionRow } from '../database/schema.js';
import { Problem } from '../http/problem.js';
import { judgedUnder } from './clip-rows.js';
import { NO_SUCH_CLIP, type ClipStore } from './clips.js';

/** Files of clips, each by itself: one that came back is looked at as any clip is, with nothing to decide on it. */
export class OpenedVersions {
  constructor(
    private readonly database: Database,
    private readonly clips: ClipStore,
  ) {}

  /**
   * The file that goes by an id.
   * @param id of a clip, for the version of it that is looked at, or of a version itself
   */
  async file(id: string): Promise<{ readonly name: string; readonly version: VersionRow }> {
    const looked = and(eq(clips.id, id), eq(clips.versionId, versions.id));
    const [found] = await this.database
      .select({ name: clips.name, version: versions })
      .from(versions)
      .innerJoin(clips, eq(versions.clipId, clips.id))
      .where(or(looked, eq(versions.id, id)));
    if (!found) throw NO_SUCH_CLIP();
    return found;
  }

  /**
   * A version as a clip of its own, judged by the spec that holds for its clip today.
   * @throws {Problem} when there is no such version, or its file has not come whole
   * @throws {ClipUnreadable}
   */
  async clip(versionId: string): Promise<ClipDetail> {
    const [version] = await this.database.select().from(versions).where(eq(versions.id, versionId));
    if (!version)
      throw new Problem(
        404,
        'There is no such version. Its clip may have been removed; go back to its batch.',
      );
    const of = await this.clips.row(version.clipId);
    const name = version.kind === 'original' ? of.name : printable(basename(version.path ?? ''));
    const facts = version.facts ?? (await this.lookedAt(version, name));
    const [newest] = await this.database
      .select({ id: measurements.id })
      .from(measurements)
      .where(eq(measurements.versionId, versionId))
      .orderBy(desc(measurements.measuredAt))
      .limit(1);
    const kept = newest && (await this.clips.measurements.find([newest.id])).get(newest.id);
    const measurement = kept?.measurement ?? null;
    const judged = measurement && judgedUnder(measurement, await this.clips.specOf(of));
    const error = kept && !measurement ? `${name}: ${MEASURE_AGAIN}` : null;
    return {
      id: version.id,
      batchId: of.batchId,
      name,
      state: error ? 'failed' : 'measured',
      progress: 1,
      error,
      facts,
      note: '',
      specId: of.specId,
      poster: version.poster,
      proxy: version.proxy,
      content: version.contentHash,
      summary: judged && judged.summary,
      standing: null,
      drawn: false,
      judgement: judged && judged.judgement,
      measurement,
      overrides: kept?.under ?? {},
      machine: null,
      versions: await this.clips.versionsOf(of.id),
      measured: kept?.info ?? null,
      versionOf: { clipId: of.id, clip: of.name, number: version.number },
      truth: [],
    };
  }

  /** What a file is that nobody has looked at: an older house did not, when one came back. */
  private async lookedAt(version: VersionRow, name: string): Promise<ClipFacts> {
    if (version.path === null)
      throw new Problem(409, `${name}: it has not come whole, so it cannot be opened.`);
    const { facts: found } = await probeClip(await openSource(version.path));
    const facts = { ...found, file: name };
    await this.clips.changeVersion(version, { facts });
    return facts;
  }
}
