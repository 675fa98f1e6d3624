import { and, asc, desc, eq } from 'drizzle-orm';
import { storedSpec, type DeliverySpec, type SpecVersion } from '@bevrin/contract';
import type { Database } from '../database/connect.js';
import { specVersions } from '../database/schema.js';
import { Problem } from '../http/problem.js';

/** The delivery specs of the house. Every version that was ever saved is kept; the newest of each is in force. */
export class SpecStore {
  private constructor(private readonly database: Database) {}

  /** @param shipped specs that come with Bevrin; a version that the house has already is left as it is */
  static async open(database: Database, shipped: Iterable<DeliverySpec>): Promise<SpecStore> {
    for (const spec of shipped)
      await database
        .insert(specVersions)
        .values({ specId: spec.id, version: spec.version, spec })
        .onConflictDoNothing();
    return new SpecStore(database);
  }

  /** The specs in force, by name. */
  async all(): Promise<DeliverySpec[]> {
    const rows = await this.database
      .selectDistinctOn([specVersions.specId], { spec: specVersions.spec })
      .from(specVersions)
      .orderBy(asc(specVersions.specId), desc(specVersions.version));
    return rows.map(({ spec }) => storedSpec(spec)).sort((a, b) => (a.name < b.name ? -1 : 1));
  }

  /** @throws {Problem} naming the specs there are */
  async find(id: string): Promise<DeliverySpec> {
    const spec = await this.newest(id);
    if (spec) return spec;
    const ids = (await this.all()).map((s) => s.id).join(', ');
    throw new Problem(422, `There is no delivery spec "${id}". Choose one of ${ids}.`);
  }

  private async newest(id: string): Promise<DeliverySpec | undefined> {
    const [row] = await this.database
      .select({ spec: specVersions.spec })
      .from(specVersions)
      .where(eq(specVersions.specId, id))
      .orderBy(desc(specVersions.version))
      .limit(1);
    return row && storedSpec(row.spec);
  }

  /** The newest first. */
  async versions(id: string): Promise<SpecVersion[]> {
    await this.find(id);
    const rows = await this.database
      .select()
      .from(specVersions)
      .where(eq(specVersions.specId, id))
      .orderBy(desc(specVersions.version));
    return rows.map(({ spec, savedAt }) => ({ spec: storedSpec(spec), savedAt: savedAt.toISOString() }));
  }

  async version(id: string, version: number): Promise<DeliverySpec> {
    const [row] = await this.database
      .select()
      .from(specVersions)
      .where(and(eq(specVersions.specId, id), eq(specVersions.version, version)));
    if (!row) throw new Problem(404, `The delivery spec "${id}" has no version ${version}.`);
    return storedSpec(row.spec);
  }

  /**
   * Saves a spec as the next version of its id; the first one of an id that is new.
   * @param replaces the version that the change was made on
   * @throws {Problem} when another version came meanwhile, or the id of a new one is taken
   */
  async save(spec: DeliverySpec, replaces: number | null): Promise<DeliverySpec> {
    const known = await this.newest(spec.id);
    const next = { ...spec, version: (known?.version ?? 0) + 1 };
    const fresh = !known || replaces === known.version;
    // Of two that are saved at the same instant, one is first.
    const rows = fresh
      ? await this.database
          .insert(specVersions)
          .values({ specId: next.id, version: next.version, spec: next })
          .onConflictDoNothing()
          .returning()
      : [];
    if (rows.length > 0) return next;
    const there = (await this.newest(spec.id)) ?? next;
    throw new Problem(
      409,
      replaces === null
        ? `There is a delivery spec "${spec.id}" already. Give the new one another id.`
        : `"${there.name}" was changed meanwhile: version ${there.version} is in force. Look at it, then save again.`,
    );
  }
}
