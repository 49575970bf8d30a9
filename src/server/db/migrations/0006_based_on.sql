ALTER TABLE "versions" ADD COLUMN "based_on" uuid;--> statement-breakpoint
ALTER TABLE "versions" ADD CONSTRAINT "versions_based_on_versions_id_fk" FOREIGN KEY ("based_on") REFERENCES "public"."versions"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "versions_based_on" ON "versions" USING btree ("based_on");