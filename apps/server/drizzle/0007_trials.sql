CREATE TYPE "public"."trial_state" AS ENUM('waiting', 'running', 'done', 'failed', 'cancelled', 'skipped');--> statement-breakpoint
CREATE TABLE "trials" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"clip_id" uuid NOT NULL,
	"version_id" uuid NOT NULL,
	"treatment" text NOT NULL,
	"order" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"who" text DEFAULT '' NOT NULL,
	"state" "trial_state" DEFAULT 'waiting' NOT NULL,
	"progress" real DEFAULT 0 NOT NULL,
	"error" text,
	"trial" jsonb,
	"seconds" real DEFAULT 0 NOT NULL,
	"frame_bytes" bigint DEFAULT 0 NOT NULL,
	"leased_by" text,
	"leased_until" timestamp with time zone,
	"attempts" integer DEFAULT 0 NOT NULL,
	"started_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "trials" ADD CONSTRAINT "trials_clip_id_clips_id_fk" FOREIGN KEY ("clip_id") REFERENCES "public"."clips"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trials" ADD CONSTRAINT "trials_version_id_versions_id_fk" FOREIGN KEY ("version_id") REFERENCES "public"."versions"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "trials_clip" ON "trials" USING btree ("clip_id","created_at");--> statement-breakpoint
CREATE INDEX "trials_state" ON "trials" USING btree ("state");