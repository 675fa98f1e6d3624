ALTER TABLE "clips" ADD COLUMN "leased_by" text;--> statement-breakpoint
ALTER TABLE "clips" ADD COLUMN "leased_until" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "clips" ADD COLUMN "fresh" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "clips" ADD COLUMN "attempts" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "decisions" ADD COLUMN "approved_on" jsonb;