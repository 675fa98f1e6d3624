ALTER TABLE "clips" ADD COLUMN "summary" jsonb;--> statement-breakpoint
ALTER TABLE "clips" ADD COLUMN "overrides" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "clips" ADD COLUMN "measured_under" jsonb;--> statement-breakpoint
ALTER TABLE "clips" ADD COLUMN "machine" jsonb;--> statement-breakpoint
UPDATE "clips" SET "measured_under" = '{}'::jsonb, "measurement" = "measurement" || '{"measuredUnder":{}}'::jsonb WHERE "measurement" IS NOT NULL;--> statement-breakpoint
UPDATE "decisions" SET "frozen" = "frozen" || '{"disputed":[]}'::jsonb WHERE "frozen" IS NOT NULL;
