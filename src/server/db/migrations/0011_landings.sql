CREATE TABLE "landings" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"place" text NOT NULL,
	"folder" text NOT NULL,
	"entries" jsonb NOT NULL,
	"file_ids" uuid[] DEFAULT '{}' NOT NULL,
	"state" text NOT NULL,
	"why" jsonb,
	"ranked" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"job_id" uuid,
	"landed_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "trips" ADD COLUMN "handed_off_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "landings" ADD CONSTRAINT "landings_job_id_jobs_id_fk" FOREIGN KEY ("job_id") REFERENCES "public"."jobs"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "landings_state" ON "landings" USING btree ("state");--> statement-breakpoint
CREATE INDEX "landings_job" ON "landings" USING btree ("job_id");--> statement-breakpoint
CREATE INDEX "landings_files" ON "landings" USING gin ("file_ids");