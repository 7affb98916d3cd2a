-- The tables of a document as pages see them in its case; null where they aren't known, as for documents that came before.
alter table document add column tables clob;
