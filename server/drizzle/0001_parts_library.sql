CREATE TABLE "parts" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"kind" text NOT NULL,
	"name" text NOT NULL,
	"document" jsonb NOT NULL,
	"staged_in" uuid,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE INDEX "parts_by_kind" ON "parts" USING btree ("kind");--> statement-breakpoint
CREATE INDEX "parts_by_import" ON "parts" USING btree ("staged_in");