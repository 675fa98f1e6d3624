CREATE TABLE "rechecks" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"clip_id" uuid NOT NULL,
	"version_id" uuid NOT NULL,
	"who" text NOT NULL,
	"state" "trial_state" DEFAULT 'waiting' NOT NULL,
	"progress" real DEFAULT 0 NOT NULL,
	"error" text,
	"recheck" jsonb,
	"lies" jsonb,
	"signed" jsonb,
	"leased_by" text,
	"leased_until" timestamp with time zone,
	"attempts" integer DEFAULT 0 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "rechecks" ADD CONSTRAINT "rechecks_clip_id_clips_id_fk" FOREIGN KEY ("clip_id") REFERENCES "public"."clips"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rechecks" ADD CONSTRAINT "rechecks_version_id_versions_id_fk" FOREIGN KEY ("version_id") REFERENCES "public"."versions"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "rechecks_clip" ON "rechecks" USING btree ("clip_id","created_at");