CREATE TABLE "accounts" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"password_hash" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sessions" (
	"token_hash" text PRIMARY KEY NOT NULL,
	"account_id" uuid NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"seen_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "jobs" ADD COLUMN "asked_by" text;--> statement-breakpoint
ALTER TABLE "trips" ADD COLUMN "sent_by" text;--> statement-breakpoint
ALTER TABLE "trips" ADD COLUMN "returned_by" text;--> statement-breakpoint
ALTER TABLE "versions" ADD COLUMN "made_by" text;--> statement-breakpoint
ALTER TABLE "sessions" ADD CONSTRAINT "sessions_account_id_accounts_id_fk" FOREIGN KEY ("account_id") REFERENCES "public"."accounts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "accounts_name" ON "accounts" USING btree (lower("name"));--> statement-breakpoint
CREATE INDEX "sessions_account" ON "sessions" USING btree ("account_id");