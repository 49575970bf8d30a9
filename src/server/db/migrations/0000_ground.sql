CREATE TABLE "assets" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "blob_chunks" (
	"hash" text NOT NULL,
	"place" integer NOT NULL,
	"deflated" boolean NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "blob_chunks_hash_place_pk" PRIMARY KEY("hash","place")
);
--> statement-breakpoint
CREATE TABLE "blobs" (
	"hash" text PRIMARY KEY NOT NULL,
	"byte_length" bigint NOT NULL,
	"chunk_count" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "files" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"byte_length" bigint NOT NULL,
	"hash" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "jobs" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"kind" text NOT NULL,
	"title" text NOT NULL,
	"state" text NOT NULL,
	"progress" double precision DEFAULT 0 NOT NULL,
	"stage" text DEFAULT '' NOT NULL,
	"asset_id" uuid,
	"trip_id" uuid,
	"input" jsonb NOT NULL,
	"result" jsonb,
	"error" jsonb,
	"attempts" integer DEFAULT 0 NOT NULL,
	"heartbeat_at" timestamp with time zone,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"started_at" timestamp with time zone,
	"finished_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "scene_blobs" (
	"scene_id" uuid NOT NULL,
	"hash" text NOT NULL,
	CONSTRAINT "scene_blobs_scene_id_hash_pk" PRIMARY KEY("scene_id","hash")
);
--> statement-breakpoint
CREATE TABLE "scenes" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"document" jsonb NOT NULL,
	"arrays" jsonb NOT NULL,
	"inspection" jsonb NOT NULL,
	"fingerprints" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "trip_blobs" (
	"trip_id" uuid NOT NULL,
	"hash" text NOT NULL,
	CONSTRAINT "trip_blobs_trip_id_hash_pk" PRIMARY KEY("trip_id","hash")
);
--> statement-breakpoint
CREATE TABLE "trips" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"asset_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"destination" text NOT NULL,
	"version_id" uuid NOT NULL,
	"options" jsonb NOT NULL,
	"space" jsonb NOT NULL,
	"sent_file_id" uuid NOT NULL,
	"contents" jsonb NOT NULL,
	"forecast" jsonb NOT NULL,
	"state" text NOT NULL,
	"returned_file_id" uuid,
	"returned_scene_id" uuid,
	"ledger" jsonb,
	"result_version_id" uuid,
	"sent_at" timestamp with time zone DEFAULT now() NOT NULL,
	"returned_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "versions" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"asset_id" uuid NOT NULL,
	"number" integer NOT NULL,
	"scene_id" uuid NOT NULL,
	"note" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "blob_chunks" ADD CONSTRAINT "blob_chunks_hash_blobs_hash_fk" FOREIGN KEY ("hash") REFERENCES "public"."blobs"("hash") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "files" ADD CONSTRAINT "files_hash_blobs_hash_fk" FOREIGN KEY ("hash") REFERENCES "public"."blobs"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "jobs" ADD CONSTRAINT "jobs_asset_id_assets_id_fk" FOREIGN KEY ("asset_id") REFERENCES "public"."assets"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "jobs" ADD CONSTRAINT "jobs_trip_id_trips_id_fk" FOREIGN KEY ("trip_id") REFERENCES "public"."trips"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "scene_blobs" ADD CONSTRAINT "scene_blobs_scene_id_scenes_id_fk" FOREIGN KEY ("scene_id") REFERENCES "public"."scenes"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "scene_blobs" ADD CONSTRAINT "scene_blobs_hash_blobs_hash_fk" FOREIGN KEY ("hash") REFERENCES "public"."blobs"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trip_blobs" ADD CONSTRAINT "trip_blobs_trip_id_trips_id_fk" FOREIGN KEY ("trip_id") REFERENCES "public"."trips"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trip_blobs" ADD CONSTRAINT "trip_blobs_hash_blobs_hash_fk" FOREIGN KEY ("hash") REFERENCES "public"."blobs"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trips" ADD CONSTRAINT "trips_asset_id_assets_id_fk" FOREIGN KEY ("asset_id") REFERENCES "public"."assets"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trips" ADD CONSTRAINT "trips_version_id_versions_id_fk" FOREIGN KEY ("version_id") REFERENCES "public"."versions"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trips" ADD CONSTRAINT "trips_sent_file_id_files_id_fk" FOREIGN KEY ("sent_file_id") REFERENCES "public"."files"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trips" ADD CONSTRAINT "trips_returned_file_id_files_id_fk" FOREIGN KEY ("returned_file_id") REFERENCES "public"."files"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trips" ADD CONSTRAINT "trips_returned_scene_id_scenes_id_fk" FOREIGN KEY ("returned_scene_id") REFERENCES "public"."scenes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "trips" ADD CONSTRAINT "trips_result_version_id_versions_id_fk" FOREIGN KEY ("result_version_id") REFERENCES "public"."versions"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "versions" ADD CONSTRAINT "versions_asset_id_assets_id_fk" FOREIGN KEY ("asset_id") REFERENCES "public"."assets"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "versions" ADD CONSTRAINT "versions_scene_id_scenes_id_fk" FOREIGN KEY ("scene_id") REFERENCES "public"."scenes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "jobs_state" ON "jobs" USING btree ("state");--> statement-breakpoint
CREATE INDEX "scene_blobs_hash" ON "scene_blobs" USING btree ("hash");--> statement-breakpoint
CREATE INDEX "trip_blobs_hash" ON "trip_blobs" USING btree ("hash");--> statement-breakpoint
CREATE UNIQUE INDEX "trips_number" ON "trips" USING btree ("asset_id","number");--> statement-breakpoint
CREATE UNIQUE INDEX "versions_number" ON "versions" USING btree ("asset_id","number");