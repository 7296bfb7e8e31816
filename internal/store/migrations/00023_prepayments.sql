-- +goose Up
-- Money ahead: what is agreed on orders, the invoices for it, what later invoices do with it, and what they took; and money
-- that moved outside payment runs.

-- The kinds of money ahead, each with an asset account of its own.
CREATE TABLE prepayment_kind (name TEXT PRIMARY KEY) STRICT, WITHOUT ROWID;
CREATE TABLE prepayment_agreement (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, purchase_order INTEGER NOT NULL REFERENCES purchase_order,
  kind TEXT NOT NULL, percent INTEGER NOT NULL CHECK (percent >= 0), amount INTEGER NOT NULL CHECK (amount >= 0),
  event TEXT NOT NULL, expected_on TEXT NOT NULL, note TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL, CHECK ((percent = 0) <> (amount = 0))
) STRICT;
CREATE INDEX prepayment_agreement_order ON prepayment_agreement (purchase_order);
CREATE TABLE prepayment_agreement_end (
  agreement INTEGER PRIMARY KEY REFERENCES prepayment_agreement, reason TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
-- What makes a revision of an invoice one for money ahead.
CREATE TABLE invoice_prepayment (
  invoice_revision INTEGER PRIMARY KEY REFERENCES invoice_revision, invoice INTEGER NOT NULL REFERENCES invoice,
  purchase_order INTEGER REFERENCES purchase_order, agreement INTEGER REFERENCES prepayment_agreement, kind TEXT NOT NULL
) STRICT;
CREATE INDEX invoice_prepayment_order ON invoice_prepayment (purchase_order) WHERE purchase_order IS NOT NULL;
CREATE INDEX invoice_prepayment_invoice ON invoice_prepayment (invoice);
-- What a revision of an invoice does with money ahead: it uses so much of it, or (zero) leaves it where it is.
CREATE TABLE prepayment_use (
  id INTEGER PRIMARY KEY, invoice_revision INTEGER NOT NULL REFERENCES invoice_revision,
  prepayment INTEGER NOT NULL REFERENCES invoice, amount INTEGER NOT NULL CHECK (amount >= 0), note TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX prepayment_use_revision ON prepayment_use (invoice_revision);
CREATE INDEX prepayment_use_prepayment ON prepayment_use (prepayment);
CREATE TABLE prepayment_use_end (
  prepayment_use INTEGER PRIMARY KEY REFERENCES prepayment_use, reason TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
-- What went off money ahead: used by a verified invoice, or given back by a credit note. Counter-rows carry the opposite sign.
CREATE TABLE prepayment_taken (
  id INTEGER PRIMARY KEY, prepayment INTEGER NOT NULL REFERENCES invoice,
  prepayment_use INTEGER REFERENCES prepayment_use, credit_note INTEGER REFERENCES invoice,
  amount INTEGER NOT NULL, base INTEGER NOT NULL, payables INTEGER NOT NULL, at TEXT NOT NULL,
  CHECK ((prepayment_use IS NULL) <> (credit_note IS NULL))
) STRICT;
CREATE INDEX prepayment_taken_of ON prepayment_taken (prepayment);
CREATE INDEX prepayment_taken_use ON prepayment_taken (prepayment_use) WHERE prepayment_use IS NOT NULL;
CREATE INDEX prepayment_taken_credit ON prepayment_taken (credit_note) WHERE credit_note IS NOT NULL;
CREATE TABLE prepayment_taken_tax (
  taken INTEGER NOT NULL REFERENCES prepayment_taken, name TEXT NOT NULL, own INTEGER NOT NULL CHECK (own IN (0, 1)),
  amount INTEGER NOT NULL, base INTEGER NOT NULL, PRIMARY KEY (taken, name, own)
) STRICT, WITHOUT ROWID;

-- Money that moved outside runs: an invoice paid in cash, by card or by the bank without us, a credit note refunded. Base is
-- what it settled of the payables, in company currency, and entry the number of its ledger entry.
CREATE TABLE settlement (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, invoice INTEGER NOT NULL REFERENCES invoice,
  way TEXT NOT NULL CHECK (way IN ('bank', 'cash', 'card')), amount INTEGER NOT NULL CHECK (amount > 0), base INTEGER NOT NULL,
  day TEXT NOT NULL, reference TEXT NOT NULL, entry INTEGER NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX settlement_invoice ON settlement (invoice);
CREATE TABLE settlement_end (
  settlement INTEGER PRIMARY KEY REFERENCES settlement, reason TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
