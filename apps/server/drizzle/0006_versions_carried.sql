INSERT INTO "versions" ("clip_id", "number", "kind", "path", "upload_id", "facts", "created_at")
SELECT "id", 1, 'original', "path", "upload_id", "facts", "created_at" FROM "clips";--> statement-breakpoint
UPDATE "clips" SET "version_id" = v."id" FROM "versions" v WHERE v."clip_id" = "clips"."id";--> statement-breakpoint
UPDATE "decisions" SET "version_id" = c."version_id" FROM "clips" c WHERE c."id" = "decisions"."clip_id";--> statement-breakpoint
CREATE TEMPORARY TABLE "carried" ON COMMIT DROP AS
SELECT gen_random_uuid() AS "id", "id" AS "clip_id", NULL::integer AS "decision_id", false AS "machine", "version_id", "measurement", coalesce("measured_under", '{}'::jsonb) AS "overrides", "created_at" FROM "clips" WHERE "measurement" IS NOT NULL
UNION ALL
SELECT gen_random_uuid(), "id", NULL, true, "version_id", "machine", '{}'::jsonb, "created_at" FROM "clips" WHERE "machine" IS NOT NULL
UNION ALL
SELECT gen_random_uuid(), d."clip_id", d."id", false, c."version_id", d."approved_on"->'measurement', coalesce(d."approved_on"->'measurement'->'measuredUnder', '{}'::jsonb), c."created_at"
FROM "decisions" d JOIN "clips" c ON c."id" = d."clip_id" WHERE d."approved_on" ? 'measurement';--> statement-breakpoint
INSERT INTO "measurements" ("id", "version_id", "engine", "overrides", "measurement", "measured_at")
SELECT "id", "version_id", '0.1', "overrides",
  "measurement" || jsonb_build_object('readings', coalesce((
    SELECT jsonb_object_agg(r."defect", CASE WHEN r."reading" ? 'series' THEN jsonb_set(r."reading", '{series}', '{}'::jsonb) ELSE r."reading" END)
    FROM jsonb_each("measurement"->'readings') r("defect", "reading")), '{}'::jsonb)),
  "created_at"
FROM "carried";--> statement-breakpoint
INSERT INTO "measurement_series" ("measurement_id", "defect", "name", "packed")
SELECT c."id", r."defect", s."name", coalesce((
    SELECT string_agg(float8send(coalesce((v."value" #>> '{}')::float8, 'NaN'::float8)), ''::bytea ORDER BY v."n")
    FROM jsonb_array_elements(s."values") WITH ORDINALITY v("value", "n")), ''::bytea)
FROM "carried" c, jsonb_each(c."measurement"->'readings') r("defect", "reading"), jsonb_each(coalesce(r."reading"->'series', '{}'::jsonb)) s("name", "values")
WHERE jsonb_typeof(s."values") = 'array';--> statement-breakpoint
UPDATE "clips" SET "measurement_id" = c."id" FROM "carried" c WHERE c."clip_id" = "clips"."id" AND c."decision_id" IS NULL AND NOT c."machine";--> statement-breakpoint
UPDATE "clips" SET "machine_id" = c."id" FROM "carried" c WHERE c."clip_id" = "clips"."id" AND c."machine";--> statement-breakpoint
UPDATE "decisions" SET "approved_on" = ("approved_on" - 'measurement') || jsonb_build_object('measurementId', c."id") FROM "carried" c WHERE c."decision_id" = "decisions"."id";--> statement-breakpoint
ALTER TABLE "clips" DROP CONSTRAINT "clips_upload_id_unique";--> statement-breakpoint
ALTER TABLE "clips" DROP COLUMN "path";--> statement-breakpoint
ALTER TABLE "clips" DROP COLUMN "upload_id";--> statement-breakpoint
ALTER TABLE "clips" DROP COLUMN "facts";--> statement-breakpoint
ALTER TABLE "clips" DROP COLUMN "measurement";--> statement-breakpoint
ALTER TABLE "clips" DROP COLUMN "measured_under";--> statement-breakpoint
ALTER TABLE "clips" DROP COLUMN "machine";--> statement-breakpoint
DROP SCHEMA IF EXISTS "pgboss" CASCADE;
