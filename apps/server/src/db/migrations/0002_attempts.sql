ALTER TABLE "jobs" ADD COLUMN "attempts" integer DEFAULT 0 NOT NULL;
