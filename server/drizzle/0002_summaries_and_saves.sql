ALTER TABLE "stages" ADD COLUMN "last_save" uuid;--> statement-breakpoint
ALTER TABLE "stages" ADD COLUMN "summary" jsonb;--> statement-breakpoint
ALTER TABLE "stages" ADD COLUMN "summary_of" text;--> statement-breakpoint
-- Of parts that two imports left twice the newer stays.
DELETE FROM "parts" AS older USING "parts" AS newer WHERE older.staged_in IS NULL AND newer.staged_in IS NULL AND older.kind = newer.kind AND older.name = newer.name AND (older.created_at, older.id) < (newer.created_at, newer.id);--> statement-breakpoint
CREATE UNIQUE INDEX "parts_by_name" ON "parts" USING btree ("kind","name") WHERE staged_in IS NULL;