CREATE TABLE "prints" (
	"id" text PRIMARY KEY NOT NULL,
	"project_id" text NOT NULL,
	"printer" text NOT NULL,
	"bed" text NOT NULL,
	"title" text NOT NULL,
	"pieces" jsonb NOT NULL,
	"kept" jsonb NOT NULL,
	"file" text NOT NULL,
	"noted" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
