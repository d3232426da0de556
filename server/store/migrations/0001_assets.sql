CREATE TABLE "asset" (
	"hash" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"content" "bytea" NOT NULL,
	"kept_at" timestamp with time zone DEFAULT now() NOT NULL
);
