-- A manifest is a list of records of 40 bytes, one an array: 32 of its SHA-256, 4 of its length in elements and 4 of
-- its kind (0 doubles, 1 unsigned, 2 signed whole numbers, 3 bytes), both highest byte first. See content/manifest.ts.
ALTER TABLE "blobs" ADD COLUMN "uses" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "scenes" ADD COLUMN "manifest" bytea;--> statement-breakpoint
ALTER TABLE "scenes" ADD COLUMN "vertex_count" integer;--> statement-breakpoint
ALTER TABLE "scenes" ADD COLUMN "polygon_count" integer;--> statement-breakpoint
ALTER TABLE "scenes" ADD COLUMN "part_count" integer;--> statement-breakpoint
ALTER TABLE "trips" ADD COLUMN "selection" jsonb;--> statement-breakpoint
ALTER TABLE "trips" ADD COLUMN "forecast_manifest" bytea;--> statement-breakpoint
ALTER TABLE "trips" ADD COLUMN "ledger_manifest" bytea;--> statement-breakpoint
ALTER TABLE "trips" ADD COLUMN "matching" jsonb;--> statement-breakpoint
ALTER TABLE "trips" ADD COLUMN "matching_manifest" bytea;--> statement-breakpoint
ALTER TABLE "trips" DROP CONSTRAINT "trips_returned_file_id_files_id_fk";--> statement-breakpoint
UPDATE "scenes" s SET "manifest" = coalesce((
  SELECT string_agg(
    decode(a->>'hash', 'hex') || int4send((a->>'length')::integer)
      || int4send(array_position(ARRAY['f64', 'u32', 'i32', 'u8'], a->>'type') - 1),
    ''::bytea ORDER BY place)
  FROM jsonb_array_elements(s."arrays") WITH ORDINALITY AS listed(a, place)), ''::bytea);--> statement-breakpoint
UPDATE "scenes" s SET ("vertex_count", "polygon_count", "part_count") = (
  SELECT coalesce(sum((m->>'vertices')::integer), 0),
    coalesce(sum((m->'faces'->>'3')::integer + (m->'faces'->>'4')::integer + (m->'faces'->>'n')::integer), 0),
    count(m)
  FROM jsonb_array_elements(s."inspection"->'nodes') AS n
  CROSS JOIN LATERAL (SELECT s."inspection"->'meshes'->((n->>'mesh')::integer)) AS shown(m)
  WHERE jsonb_typeof(n->'mesh') = 'number');--> statement-breakpoint
ALTER TABLE "scenes" ALTER COLUMN "manifest" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "scenes" ALTER COLUMN "vertex_count" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "scenes" ALTER COLUMN "polygon_count" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "scenes" ALTER COLUMN "part_count" SET NOT NULL;--> statement-breakpoint
-- arrays of ledgers that were replaced are named by nothing any more, and are not carried over
UPDATE "trips" t SET
  "forecast_manifest" = (
    SELECT string_agg(decode(b."hash", 'hex') || int4send((b."byte_length" / 4)::integer) || int4send(1), ''::bytea)
    FROM "trip_blobs" tb JOIN "blobs" b ON b."hash" = tb."hash"
    WHERE tb."trip_id" = t."id" AND position(tb."hash" IN t."forecast"::text) > 0),
  "ledger_manifest" = (
    SELECT string_agg(decode(b."hash", 'hex') || int4send((b."byte_length" / 4)::integer) || int4send(1), ''::bytea)
    FROM "trip_blobs" tb JOIN "blobs" b ON b."hash" = tb."hash"
    WHERE tb."trip_id" = t."id" AND position(tb."hash" IN t."ledger"::text) > 0);--> statement-breakpoint
ALTER TABLE "trips" ADD COLUMN "returned_files" uuid[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
UPDATE "trips" SET "returned_files" = CASE
  WHEN jsonb_array_length("returned_file_ids") > 0
    THEN ARRAY(SELECT value::uuid FROM jsonb_array_elements_text("returned_file_ids") WITH ORDINALITY ORDER BY ordinality)
  WHEN "returned_file_id" IS NOT NULL THEN ARRAY["returned_file_id"]
  ELSE '{}'::uuid[] END;--> statement-breakpoint
ALTER TABLE "trips" DROP COLUMN "returned_file_ids";--> statement-breakpoint
ALTER TABLE "trips" DROP COLUMN "returned_file_id";--> statement-breakpoint
ALTER TABLE "trips" RENAME COLUMN "returned_files" TO "returned_file_ids";--> statement-breakpoint
ALTER TABLE "scenes" DROP COLUMN "arrays";--> statement-breakpoint
DROP TABLE "scene_blobs" CASCADE;--> statement-breakpoint
DROP TABLE "trip_blobs" CASCADE;--> statement-breakpoint
DROP INDEX "jobs_state";--> statement-breakpoint
CREATE INDEX "files_hash" ON "files" USING btree ("hash");--> statement-breakpoint
CREATE INDEX "jobs_created" ON "jobs" USING btree ("created_at");--> statement-breakpoint
CREATE INDEX "jobs_asset" ON "jobs" USING btree ("asset_id");--> statement-breakpoint
CREATE INDEX "jobs_trip" ON "jobs" USING btree ("trip_id");--> statement-breakpoint
CREATE INDEX "trips_version" ON "trips" USING btree ("version_id");--> statement-breakpoint
CREATE INDEX "trips_result_version" ON "trips" USING btree ("result_version_id");--> statement-breakpoint
CREATE INDEX "trips_returned_scene" ON "trips" USING btree ("returned_scene_id");--> statement-breakpoint
CREATE INDEX "trips_sent_file" ON "trips" USING btree ("sent_file_id");--> statement-breakpoint
CREATE INDEX "trips_returned_files" ON "trips" USING gin ("returned_file_ids");--> statement-breakpoint
CREATE INDEX "versions_scene" ON "versions" USING btree ("scene_id");--> statement-breakpoint
CREATE INDEX "jobs_state" ON "jobs" USING btree ("state","created_at");--> statement-breakpoint
-- what nobody names is found without looking at what is named
CREATE INDEX "blobs_unused" ON "blobs" USING btree ("hash") WHERE "uses" = 0;--> statement-breakpoint
-- Counts the uses of every content that a manifest names, once each. Rows are locked in order, so that two that name
-- the same contents wait for each other instead of standing in each other's way.
CREATE FUNCTION kelbo_count_uses(manifest bytea, change integer) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  plain bytea := manifest || ''::bytea;
  wanted text[];
  met integer;
BEGIN
  IF plain IS NULL OR length(plain) = 0 THEN RETURN; END IF;
  SELECT array_agg(DISTINCT encode(substr(plain, at * 40 + 1, 32), 'hex')) INTO wanted
    FROM generate_series(0, length(plain) / 40 - 1) AS at;
  PERFORM 1 FROM blobs WHERE hash = ANY (wanted) ORDER BY hash FOR NO KEY UPDATE;
  UPDATE blobs SET uses = uses + change WHERE hash = ANY (wanted);
  GET DIAGNOSTICS met = ROW_COUNT;
  IF met <> cardinality(wanted) THEN
    RAISE EXCEPTION 'content that is named is not stored: % of %', cardinality(wanted) - met, cardinality(wanted);
  END IF;
END $$;--> statement-breakpoint
CREATE FUNCTION kelbo_scene_uses() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP <> 'DELETE' THEN PERFORM kelbo_count_uses(NEW.manifest, 1); END IF;
  IF TG_OP <> 'INSERT' THEN PERFORM kelbo_count_uses(OLD.manifest, -1); END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE FUNCTION kelbo_trip_uses() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP <> 'DELETE' THEN
    PERFORM kelbo_count_uses(NEW.forecast_manifest, 1);
    PERFORM kelbo_count_uses(NEW.ledger_manifest, 1);
    PERFORM kelbo_count_uses(NEW.matching_manifest, 1);
  END IF;
  IF TG_OP <> 'INSERT' THEN
    PERFORM kelbo_count_uses(OLD.forecast_manifest, -1);
    PERFORM kelbo_count_uses(OLD.ledger_manifest, -1);
    PERFORM kelbo_count_uses(OLD.matching_manifest, -1);
  END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE FUNCTION kelbo_file_uses() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP <> 'DELETE' THEN UPDATE blobs SET uses = uses + 1 WHERE hash = NEW.hash; END IF;
  IF TG_OP <> 'INSERT' THEN UPDATE blobs SET uses = uses - 1 WHERE hash = OLD.hash; END IF;
  RETURN NULL;
END $$;--> statement-breakpoint
SELECT kelbo_count_uses(manifest, 1) FROM scenes;--> statement-breakpoint
SELECT kelbo_count_uses(forecast_manifest, 1), kelbo_count_uses(ledger_manifest, 1) FROM trips;--> statement-breakpoint
UPDATE blobs b SET uses = uses + f.named FROM (SELECT hash, count(*) AS named FROM files GROUP BY hash) f WHERE f.hash = b.hash;--> statement-breakpoint
CREATE TRIGGER scene_uses AFTER INSERT OR DELETE OR UPDATE OF manifest ON scenes FOR EACH ROW EXECUTE FUNCTION kelbo_scene_uses();--> statement-breakpoint
CREATE TRIGGER trip_uses AFTER INSERT OR DELETE OR UPDATE OF forecast_manifest, ledger_manifest, matching_manifest ON trips FOR EACH ROW EXECUTE FUNCTION kelbo_trip_uses();--> statement-breakpoint
CREATE TRIGGER file_uses AFTER INSERT OR DELETE OR UPDATE OF hash ON files FOR EACH ROW EXECUTE FUNCTION kelbo_file_uses();--> statement-breakpoint
-- jobs are taken from their own table now
DROP SCHEMA IF EXISTS pgboss CASCADE;
