CREATE TABLE "passphrase" (
	"level" text PRIMARY KEY NOT NULL,
	"hash" text NOT NULL,
	"set_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "run_piece" (
	"project_id" text NOT NULL,
	"hash" text NOT NULL,
	"number" integer NOT NULL,
	"packing" text NOT NULL,
	"content" "bytea" NOT NULL,
	CONSTRAINT "run_piece_project_id_hash_number_pk" PRIMARY KEY("project_id","hash","number")
);
--> statement-breakpoint
CREATE TABLE "session" (
	"hash" text PRIMARY KEY NOT NULL,
	"level" text NOT NULL,
	"label" text,
	"expires_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "revision" ALTER COLUMN "document" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "run" ALTER COLUMN "record" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "project" ADD COLUMN "save_id" text;--> statement-breakpoint
ALTER TABLE "project" ADD COLUMN "binned_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "revision" ADD COLUMN "packed" "bytea";--> statement-breakpoint
ALTER TABLE "revision" ADD COLUMN "name" text;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "name" text;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "pieces" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "length" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "complete" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "run_piece" ADD CONSTRAINT "run_piece_project_id_hash_run_project_id_hash_fk" FOREIGN KEY ("project_id","hash") REFERENCES "public"."run"("project_id","hash") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "session_expires" ON "session" USING btree ("expires_at");--> statement-breakpoint
UPDATE "run" SET "length" = octet_length("record");--> statement-breakpoint
INSERT INTO "run_piece" ("project_id", "hash", "number", "packing", "content") SELECT "project_id", "hash", 0, 'none', "record" FROM "run";
