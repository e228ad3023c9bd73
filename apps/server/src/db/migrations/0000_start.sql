CREATE TABLE "projects" (
  "id" text PRIMARY KEY NOT NULL,
  "name" text NOT NULL,
  "source" jsonb NOT NULL,
  "head" integer NOT NULL,
  "summary" jsonb,
  "thumbnail" text,
  "created_at" timestamptz DEFAULT now() NOT NULL,
  "updated_at" timestamptz DEFAULT now() NOT NULL,
  "deleted_at" timestamptz
);
--> statement-breakpoint
CREATE TABLE "revisions" (
  "project_id" text NOT NULL REFERENCES "projects"("id") ON DELETE CASCADE,
  "n" integer NOT NULL,
  "parent" integer,
  "label" text NOT NULL,
  "plan" jsonb NOT NULL,
  "created_at" timestamptz DEFAULT now() NOT NULL,
  PRIMARY KEY ("project_id", "n")
);
--> statement-breakpoint
CREATE TABLE "jobs" (
  "id" text PRIMARY KEY NOT NULL,
  "kind" text NOT NULL,
  "key" text NOT NULL,
  "input" jsonb NOT NULL,
  "state" text NOT NULL,
  "project_id" text,
  "result" jsonb,
  "error" jsonb,
  "created_at" timestamptz DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE INDEX "jobs_key" ON "jobs" ("key");
