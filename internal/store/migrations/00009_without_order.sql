-- +goose Up
-- Invoices without an order: what each line is charged to, who approved them, and to whom they were passed on. A budget
-- may be one of fixed assets. Tables that others refer to are made anew under their names; the references are asked at
-- the end.
PRAGMA defer_foreign_keys = ON;

CREATE TABLE budget_before AS SELECT * FROM budget;
DROP TABLE budget;
CREATE TABLE budget (code TEXT PRIMARY KEY, name TEXT NOT NULL,
  account TEXT NOT NULL CHECK (account IN ('stock', 'expense', 'assets'))) STRICT, WITHOUT ROWID;
INSERT INTO budget SELECT * FROM budget_before;
DROP TABLE budget_before;

CREATE TABLE item_before AS SELECT * FROM item;
DROP TABLE item;
CREATE TABLE item (
  id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE, name TEXT NOT NULL, unit TEXT NOT NULL,
  whole INTEGER NOT NULL CHECK (whole IN (0, 1)),
  match_level TEXT CHECK (match_level IN ('two_way', 'three_way')), base INTEGER NOT NULL CHECK (base > 0),
  lots INTEGER NOT NULL CHECK (lots IN (0, 1)),
  account TEXT CHECK (account IN ('stock', 'expense', 'assets')), budget TEXT REFERENCES budget,
  incomplete INTEGER NOT NULL CHECK (incomplete IN (0, 1)), version INTEGER NOT NULL
) STRICT;
CREATE INDEX item_name ON item (name COLLATE NOCASE);
INSERT INTO item SELECT * FROM item_before;
DROP TABLE item_before;

CREATE TABLE order_line_state_before AS SELECT * FROM order_line_state;
DROP TABLE order_line_state;
CREATE TABLE order_line_state (
  order_line INTEGER PRIMARY KEY REFERENCES order_line, received INTEGER NOT NULL CHECK (received >= 0),
  billed INTEGER NOT NULL CHECK (billed >= 0),
  returned INTEGER NOT NULL CHECK (returned >= 0), closed_goods INTEGER NOT NULL CHECK (closed_goods IN (0, 1)),
  closed_invoices INTEGER NOT NULL CHECK (closed_invoices IN (0, 1)),
  match_level TEXT CHECK (match_level IN ('two_way', 'three_way')),
  account TEXT CHECK (account IN ('stock', 'expense', 'assets')),
  dearer INTEGER NOT NULL CHECK (dearer >= 0), cheaper INTEGER NOT NULL CHECK (cheaper >= 0),
  CHECK ((match_level IS NULL) = (account IS NULL))
) STRICT;
INSERT INTO order_line_state SELECT * FROM order_line_state_before;
DROP TABLE order_line_state_before;

CREATE TABLE invoice_line_coding (
  invoice_line INTEGER NOT NULL REFERENCES invoice_line, no INTEGER NOT NULL, budget TEXT NOT NULL REFERENCES budget,
  percent INTEGER NOT NULL CHECK (percent > 0), PRIMARY KEY (invoice_line, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE invoice_approval (
  id INTEGER PRIMARY KEY, invoice INTEGER NOT NULL REFERENCES invoice,
  revision INTEGER NOT NULL REFERENCES invoice_revision, net INTEGER NOT NULL, note TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX invoice_approval_revision ON invoice_approval (revision);
CREATE TABLE approval_pass (
  id INTEGER PRIMARY KEY, invoice INTEGER NOT NULL REFERENCES invoice,
  revision INTEGER NOT NULL REFERENCES invoice_revision, to_person INTEGER NOT NULL REFERENCES person,
  note TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX approval_pass_revision ON approval_pass (revision);
-- Whose turn a held invoice is, is worked out anew: what only stops a release comes after what stops it from being verified.
INSERT OR IGNORE INTO wake (invoice, cause, not_before)
SELECT invoice, 'whose turn it is', since FROM invoice_state WHERE state = 'held';
-- To whom an invoice is addressed, and by which tax number the company is.
CREATE TABLE invoice_addressee (
  invoice_revision INTEGER PRIMARY KEY REFERENCES invoice_revision, name TEXT NOT NULL, tax_id TEXT NOT NULL
) STRICT;
CREATE TABLE company_tax (company INTEGER PRIMARY KEY REFERENCES company, tax_id TEXT NOT NULL) STRICT;
-- The chart: what the company numbers and names the account of a role, or of a budget or kind of charge within it.
CREATE TABLE ledger_account (
  role TEXT NOT NULL, detail TEXT NOT NULL, number TEXT NOT NULL, name TEXT NOT NULL, PRIMARY KEY (role, detail)
) STRICT, WITHOUT ROWID;
