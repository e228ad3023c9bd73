CREATE TABLE "workshop" (
  "id" integer PRIMARY KEY NOT NULL,
  "revision" integer NOT NULL,
  "document" jsonb NOT NULL,
  "updated_at" timestamptz DEFAULT now() NOT NULL
);
