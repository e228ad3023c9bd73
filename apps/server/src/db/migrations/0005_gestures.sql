ALTER TABLE "revisions" ALTER COLUMN "plan" DROP NOT NULL;
--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "plan_at" integer;
--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "log_kept" integer;
--> statement-breakpoint
CREATE TABLE "log_entries" (
	"project_id" text NOT NULL,
	"n" integer NOT NULL,
	"k" integer NOT NULL,
	"entry" jsonb NOT NULL,
	CONSTRAINT "log_entries_project_id_n_k_pk" PRIMARY KEY("project_id","n","k")
);
--> statement-breakpoint
CREATE TABLE "gestures" (
	"project_id" text NOT NULL,
	"id" text NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "gestures_project_id_id_pk" PRIMARY KEY("project_id","id")
);
