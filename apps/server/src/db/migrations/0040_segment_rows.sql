ALTER TABLE "segment_event" DROP CONSTRAINT "segment_event_segment_id_segment_id_fk";
--> statement-breakpoint
ALTER TABLE "segment_member" DROP CONSTRAINT "segment_member_segment_id_segment_id_fk";
