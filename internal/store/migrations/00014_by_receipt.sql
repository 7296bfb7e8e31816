-- +goose Up
-- A third match level, by receipt. A check that allows more changes nothing that is kept: the words of the tables are
-- changed where they stand, as SQLite says it may be done, and whoever has them open reads them anew because of the
-- table that is made after.
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, '(match_level IN (''two_way'', ''three_way''))',
  '(match_level IN (''two_way'', ''three_way'', ''by_receipt''))') WHERE type = 'table';
PRAGMA writable_schema = RESET;
-- An invoice that its supplier calls the last one of its orders, and the closings of lines that came of it.
CREATE TABLE invoice_final (invoice_revision INTEGER PRIMARY KEY REFERENCES invoice_revision) STRICT;
CREATE TABLE line_close_invoice (
  line_close INTEGER PRIMARY KEY REFERENCES line_close, invoice INTEGER NOT NULL REFERENCES invoice
) STRICT;
CREATE INDEX line_close_invoice_of ON line_close_invoice (invoice);
-- The delivery notes that a line of an invoice names.
CREATE TABLE invoice_line_note (
  invoice_line INTEGER NOT NULL REFERENCES invoice_line, no INTEGER NOT NULL, note TEXT NOT NULL,
  PRIMARY KEY (invoice_line, no)
) STRICT, WITHOUT ROWID;
