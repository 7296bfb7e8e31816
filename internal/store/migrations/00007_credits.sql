-- +goose Up
-- Credit notes: which invoice one names, what somebody said that a line is for, and what a line took back of the
-- order lines that invoices had billed.

CREATE TABLE invoice_credit (
  invoice_revision INTEGER PRIMARY KEY REFERENCES invoice_revision, stated TEXT NOT NULL, number_key TEXT NOT NULL
) STRICT;
CREATE INDEX invoice_credit_number ON invoice_credit (number_key);
CREATE TABLE invoice_line_credit (
  invoice_line INTEGER PRIMARY KEY REFERENCES invoice_line, what TEXT NOT NULL CHECK (what IN ('goods', 'price'))
) STRICT;
CREATE TABLE allocation_credit (
  allocation INTEGER PRIMARY KEY REFERENCES allocation, invoice_line INTEGER NOT NULL REFERENCES invoice_line
) STRICT;
CREATE INDEX allocation_credit_line ON allocation_credit (invoice_line);
-- Those that were held because they were not booked yet are matched.
INSERT OR IGNORE INTO wake (invoice, cause, not_before)
SELECT s.invoice, 'credit notes are booked now', s.since FROM invoice_state s
JOIN invoice_revision r ON r.id = s.revision
WHERE r.kind = 'credit_note' AND s.state IN ('captured', 'waiting', 'held');
