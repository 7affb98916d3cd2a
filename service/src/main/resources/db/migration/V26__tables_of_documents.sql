-- The tables of a document as pages see them in its case; null where they aren't known, as for documents that came before.
alter table document add column tables clob;
-- A file may have more than a million bytes, and more than a million characters of text in it.
alter table document alter column content set data type blob;
alter table document alter column text set data type clob;
-- What was read of files is read again when it is wanted: there is more to be read in them now.
delete from document_reading;
