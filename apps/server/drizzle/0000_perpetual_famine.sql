CREATE TYPE "public"."clip_state" AS ENUM('receiving', 'interrupted', 'queued', 'measuring', 'measured', 'failed');--> statement-breakpoint
CREATE TABLE "batches" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"production" text DEFAULT '' NOT NULL,
	"spec_id" text NOT NULL,
	"due_on" date,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "clips" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"batch_id" uuid NOT NULL,
	"position" integer GENERATED ALWAYS AS IDENTITY (sequence name "clips_position_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"name" text NOT NULL,
	"path" text,
	"upload_id" text,
	"state" "clip_state" NOT NULL,
	"progress" real DEFAULT 0 NOT NULL,
	"error" text,
	"facts" jsonb,
	"note" text DEFAULT '' NOT NULL,
	"measurement" jsonb,
	"judgement" jsonb,
	"truth" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "clips_upload_id_unique" UNIQUE("upload_id")
);
--> statement-breakpoint
ALTER TABLE "clips" ADD CONSTRAINT "clips_batch_id_batches_id_fk" FOREIGN KEY ("batch_id") REFERENCES "public"."batches"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "clips_batch" ON "clips" USING btree ("batch_id","position");