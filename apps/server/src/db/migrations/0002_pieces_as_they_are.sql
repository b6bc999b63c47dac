-- Pieces of files are read a few times and dropped; compressing them costs more than their room.
ALTER TABLE "file_chunk" ALTER COLUMN "bytes" SET STORAGE EXTERNAL;
