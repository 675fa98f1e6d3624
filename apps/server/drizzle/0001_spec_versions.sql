CREATE TABLE "spec_versions" (
	"spec_id" text NOT NULL,
	"version" integer NOT NULL,
	"spec" jsonb NOT NULL,
	"saved_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "spec_versions_spec_id_version_pk" PRIMARY KEY("spec_id","version")
);
--> statement-breakpoint
ALTER TABLE "clips" ADD COLUMN "spec_id" text;--> statement-breakpoint
UPDATE "clips" SET "state" = 'queued' WHERE "state" = 'measured' AND NOT ("measurement"->'clip' ? 'lostBefore');
