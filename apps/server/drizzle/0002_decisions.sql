CREATE TABLE "decisions" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "decisions_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"clip_id" uuid NOT NULL,
	"who" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"undone" boolean DEFAULT false NOT NULL,
	"decision" jsonb NOT NULL,
	"frozen" jsonb
);
--> statement-breakpoint
ALTER TABLE "decisions" ADD CONSTRAINT "decisions_clip_id_clips_id_fk" FOREIGN KEY ("clip_id") REFERENCES "public"."clips"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "decisions_clip" ON "decisions" USING btree ("clip_id","id");