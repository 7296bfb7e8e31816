-- +goose Up
-- Claims: what suppliers are asked to credit of their invoices, what became of it, and the letters about it.

CREATE TABLE claim (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, invoice INTEGER NOT NULL REFERENCES invoice,
  invoice_revision INTEGER NOT NULL REFERENCES invoice_revision, note TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX claim_invoice ON claim (invoice);
CREATE TABLE claim_line (
  id INTEGER PRIMARY KEY, claim INTEGER NOT NULL REFERENCES claim, no INTEGER NOT NULL,
  invoice_line INTEGER NOT NULL REFERENCES invoice_line, order_line INTEGER NOT NULL REFERENCES order_line,
  what TEXT NOT NULL CHECK (what IN ('goods', 'price')), quantity INTEGER NOT NULL, net INTEGER NOT NULL,
  tax_category TEXT NOT NULL, tax_rate INTEGER NOT NULL, tax INTEGER NOT NULL
) STRICT;
CREATE INDEX claim_line_claim ON claim_line (claim, no);
CREATE INDEX claim_line_order_line ON claim_line (order_line);
-- What was claimed once the invoice stood in the books, and what of it was credited, given up or withdrawn since.
-- Counter-rows carry the opposite sign.
CREATE TABLE claim_change (
  id INTEGER PRIMARY KEY, claim_line INTEGER NOT NULL REFERENCES claim_line,
  kind TEXT NOT NULL CHECK (kind IN ('claimed', 'credited', 'given_up', 'withdrawn')),
  quantity INTEGER NOT NULL, net INTEGER NOT NULL, base INTEGER NOT NULL, tax INTEGER NOT NULL,
  dearer INTEGER NOT NULL, cheaper INTEGER NOT NULL, credit_line INTEGER REFERENCES invoice_line,
  note TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL,
  CHECK ((kind = 'credited') = (credit_line IS NOT NULL))
) STRICT;
CREATE INDEX claim_change_line ON claim_change (claim_line);
CREATE INDEX claim_change_credit ON claim_change (credit_line) WHERE credit_line IS NOT NULL;
CREATE TABLE claim_state (
  claim INTEGER PRIMARY KEY REFERENCES claim,
  state TEXT NOT NULL CHECK (state IN ('pending', 'open', 'settled', 'dropped')),
  net INTEGER NOT NULL, tax INTEGER NOT NULL, credited INTEGER NOT NULL
) STRICT;
CREATE INDEX claim_state_open ON claim_state (claim) WHERE state = 'open';
-- The allocations that a change of a claim made.
CREATE TABLE allocation_claim (
  allocation INTEGER PRIMARY KEY REFERENCES allocation, claim_change INTEGER NOT NULL REFERENCES claim_change
) STRICT;
-- What a supplier was told about an invoice.
CREATE TABLE invoice_letter (
  id INTEGER PRIMARY KEY, invoice INTEGER NOT NULL REFERENCES invoice,
  kind TEXT NOT NULL, way TEXT NOT NULL CHECK (way IN ('mail', 'otherwise')),
  recipient TEXT NOT NULL, subject TEXT NOT NULL, text TEXT NOT NULL, mail INTEGER REFERENCES paper,
  by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX invoice_letter_invoice ON invoice_letter (invoice);
CREATE TABLE letter_state (
  letter INTEGER PRIMARY KEY REFERENCES invoice_letter,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'sent', 'kept', 'failed')), tries INTEGER NOT NULL,
  trouble TEXT NOT NULL
) STRICT;
CREATE INDEX letter_waiting ON letter_state (letter) WHERE state = 'waiting';
