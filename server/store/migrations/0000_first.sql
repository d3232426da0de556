CREATE TABLE "project" (
	"id" text PRIMARY KEY NOT NULL,
	"document" json NOT NULL,
	"revision" integer NOT NULL,
	"saved_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "revision" (
	"project_id" text NOT NULL,
	"number" integer NOT NULL,
	"document" json NOT NULL,
	"label" text NOT NULL,
	"saved_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "revision_project_id_number_pk" PRIMARY KEY("project_id","number")
);
--> statement-breakpoint
CREATE TABLE "run" (
	"project_id" text NOT NULL,
	"hash" text NOT NULL,
	"trial" text NOT NULL,
	"record" "bytea" NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "run_project_id_hash_pk" PRIMARY KEY("project_id","hash")
);
--> statement-breakpoint
ALTER TABLE "revision" ADD CONSTRAINT "revision_project_id_project_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."project"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run" ADD CONSTRAINT "run_project_id_project_id_fk" FOREIGN KEY ("project_id") REFERENCES "public"."project"("id") ON DELETE cascade ON UPDATE no action;