ALTER TABLE "trips" ADD COLUMN "sent_scene_id" uuid;--> statement-breakpoint
ALTER TABLE "trips" ADD CONSTRAINT "trips_sent_scene_id_scenes_id_fk" FOREIGN KEY ("sent_scene_id") REFERENCES "public"."scenes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "trips_sent_scene" ON "trips" USING btree ("sent_scene_id");