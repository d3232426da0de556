ALTER TABLE "run" DROP COLUMN "record";--> statement-breakpoint
ALTER TABLE "run_piece" ALTER COLUMN "content" SET STORAGE EXTERNAL;
