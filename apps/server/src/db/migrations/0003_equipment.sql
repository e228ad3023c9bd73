ALTER TABLE "workshop" RENAME TO "equipment";
