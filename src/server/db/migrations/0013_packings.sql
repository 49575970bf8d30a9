-- chunks say how they are packed; what is there keeps its bytes
ALTER TABLE "blob_chunks" ADD COLUMN "packing" text;--> statement-breakpoint
UPDATE "blob_chunks" SET "packing" = CASE WHEN "deflated" THEN 'deflate' ELSE 'plain' END;--> statement-breakpoint
ALTER TABLE "blob_chunks" ALTER COLUMN "packing" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "blob_chunks" DROP COLUMN "deflated";--> statement-breakpoint
-- packed already: trying again would only cost time
ALTER TABLE "blob_chunks" ALTER COLUMN "bytes" SET STORAGE EXTERNAL;
