-- +goose Up
-- Costs that are spread over calendar months: what a line says, what became of each month, and the runs that post them.
CREATE TABLE invoice_line_deferral (
  invoice_line INTEGER PRIMARY KEY REFERENCES invoice_line, from_month TEXT NOT NULL,
  months INTEGER NOT NULL CHECK (months > 0)
) STRICT;
CREATE TABLE deferral_run (
  id INTEGER PRIMARY KEY, until_day TEXT NOT NULL, undoes INTEGER UNIQUE REFERENCES deferral_run,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
-- What was spread is above zero, what was posted, credited or made void below; undoing puts back.
CREATE TABLE deferral_change (
  id INTEGER PRIMARY KEY, invoice_line INTEGER NOT NULL REFERENCES invoice_line, month TEXT NOT NULL,
  detail TEXT NOT NULL, kind TEXT NOT NULL CHECK (kind IN ('spread', 'posted', 'credited', 'void')),
  amount INTEGER NOT NULL, base INTEGER NOT NULL,
  credit_note INTEGER REFERENCES invoice, run INTEGER REFERENCES deferral_run
) STRICT;
CREATE INDEX deferral_change_line ON deferral_change (invoice_line);
CREATE INDEX deferral_change_credit ON deferral_change (credit_note) WHERE credit_note IS NOT NULL;
CREATE INDEX deferral_change_run ON deferral_change (run) WHERE run IS NOT NULL;
-- What each month of a line still holds.
CREATE TABLE deferral_state (
  invoice_line INTEGER NOT NULL REFERENCES invoice_line, month TEXT NOT NULL, detail TEXT NOT NULL,
  invoice INTEGER NOT NULL REFERENCES invoice, amount INTEGER NOT NULL, base INTEGER NOT NULL,
  PRIMARY KEY (invoice_line, month, detail)
) STRICT, WITHOUT ROWID;
CREATE INDEX deferral_state_invoice ON deferral_state (invoice);
CREATE INDEX deferral_open ON deferral_state (month) WHERE amount <> 0 OR base <> 0;
