ALTER TABLE "run" ADD COLUMN "tags" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "verdicts" json;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "made" "bytea";