CREATE TYPE "public"."version_kind" AS ENUM('original', 'repaired', 'trial');--> statement-breakpoint
CREATE TABLE "measurement_series" (
	"measurement_id" uuid NOT NULL,
	"defect" text NOT NULL,
	"name" text NOT NULL,
	"packed" "bytea" NOT NULL,
	CONSTRAINT "measurement_series_measurement_id_defect_name_pk" PRIMARY KEY("measurement_id","defect","name")
);
--> statement-breakpoint
CREATE TABLE "measurements" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"version_id" uuid NOT NULL,
	"engine" text NOT NULL,
	"overrides" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"measurement" jsonb NOT NULL,
	"measured_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "versions" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"clip_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"kind" "version_kind" NOT NULL,
	"made_from" uuid,
	"made_by" integer,
	"path" text,
	"upload_id" text,
	"size" bigint,
	"modified_ms" double precision,
	"content_hash" text,
	"facts" jsonb,
	"poster" text,
	"proxy" text,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "versions_upload_id_unique" UNIQUE("upload_id")
);
--> statement-breakpoint
ALTER TABLE "clips" ADD COLUMN "version_id" uuid;--> statement-breakpoint
ALTER TABLE "clips" ADD COLUMN "measurement_id" uuid;--> statement-breakpoint
ALTER TABLE "clips" ADD COLUMN "machine_id" uuid;--> statement-breakpoint
ALTER TABLE "decisions" ADD COLUMN "version_id" uuid;--> statement-breakpoint
ALTER TABLE "measurement_series" ADD CONSTRAINT "measurement_series_measurement_id_measurements_id_fk" FOREIGN KEY ("measurement_id") REFERENCES "public"."measurements"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "measurements" ADD CONSTRAINT "measurements_version_id_versions_id_fk" FOREIGN KEY ("version_id") REFERENCES "public"."versions"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "versions" ADD CONSTRAINT "versions_clip_id_clips_id_fk" FOREIGN KEY ("clip_id") REFERENCES "public"."clips"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "versions" ADD CONSTRAINT "versions_made_from_versions_id_fk" FOREIGN KEY ("made_from") REFERENCES "public"."versions"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "versions" ADD CONSTRAINT "versions_made_by_decisions_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."decisions"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "measurements_version" ON "measurements" USING btree ("version_id");--> statement-breakpoint
CREATE UNIQUE INDEX "versions_clip" ON "versions" USING btree ("clip_id","number");--> statement-breakpoint
ALTER TABLE "clips" ADD CONSTRAINT "clips_version_id_versions_id_fk" FOREIGN KEY ("version_id") REFERENCES "public"."versions"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "clips" ADD CONSTRAINT "clips_measurement_id_measurements_id_fk" FOREIGN KEY ("measurement_id") REFERENCES "public"."measurements"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "clips" ADD CONSTRAINT "clips_machine_id_measurements_id_fk" FOREIGN KEY ("machine_id") REFERENCES "public"."measurements"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "decisions" ADD CONSTRAINT "decisions_version_id_versions_id_fk" FOREIGN KEY ("version_id") REFERENCES "public"."versions"("id") ON DELETE no action ON UPDATE no action;