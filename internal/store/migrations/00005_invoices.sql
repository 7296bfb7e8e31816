-- +goose Up
-- Invoices, what was decided about them, and the ledger.

CREATE TABLE invoice (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, source TEXT NOT NULL CHECK (source IN ('ubl', 'keyed')),
  paper INTEGER REFERENCES paper, captured_on TEXT NOT NULL, captured_at TEXT NOT NULL,
  captured_by INTEGER REFERENCES person
) STRICT;
-- What an invoice says: a correction makes a new revision, the earlier ones stay.
CREATE TABLE invoice_revision (
  id INTEGER PRIMARY KEY, invoice INTEGER NOT NULL REFERENCES invoice, revision INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('invoice', 'credit_note')),
  supplier INTEGER REFERENCES supplier, supplier_stated TEXT NOT NULL, tax_id_stated TEXT NOT NULL,
  supplier_number TEXT NOT NULL,
  invoice_date TEXT NOT NULL, posting_day TEXT NOT NULL, currency TEXT NOT NULL,
  rate INTEGER NOT NULL CHECK (rate >= 0),
  order_stated TEXT NOT NULL, purchase_order INTEGER REFERENCES purchase_order, stated_total INTEGER NOT NULL,
  prepaid INTEGER NOT NULL,
  iban TEXT NOT NULL, due_stated TEXT NOT NULL, code TEXT NOT NULL, rounded INTEGER NOT NULL,
  payment_reference TEXT NOT NULL, figures TEXT NOT NULL,
  about TEXT NOT NULL, note TEXT NOT NULL, made_by INTEGER REFERENCES person, made_at TEXT NOT NULL,
  reason TEXT NOT NULL,
  UNIQUE (invoice, revision)
) STRICT;
CREATE TABLE invoice_line (
  id INTEGER PRIMARY KEY, invoice_revision INTEGER NOT NULL REFERENCES invoice_revision, no INTEGER NOT NULL,
  purchase_order INTEGER REFERENCES purchase_order, order_stated TEXT NOT NULL,
  order_line INTEGER REFERENCES order_line,
  order_line_ref TEXT NOT NULL, supplier_code TEXT NOT NULL, item_code TEXT NOT NULL, description TEXT NOT NULL,
  quantity INTEGER NOT NULL, unit TEXT NOT NULL,
  price INTEGER NOT NULL, base INTEGER NOT NULL CHECK (base > 0), discount INTEGER NOT NULL, charge INTEGER NOT NULL,
  tax_category TEXT NOT NULL, tax_rate INTEGER NOT NULL CHECK (tax_rate >= 0), charge_kind TEXT NOT NULL,
  UNIQUE (invoice_revision, no)
) STRICT;
CREATE INDEX invoice_line_order_line ON invoice_line (order_line);
-- Which orders a revision is about, and with what: the net of its goods, and its share of each kind of charge.
CREATE TABLE invoice_order (
  purchase_order INTEGER NOT NULL REFERENCES purchase_order, kind TEXT NOT NULL,
  invoice INTEGER NOT NULL REFERENCES invoice, invoice_revision INTEGER NOT NULL REFERENCES invoice_revision,
  amount INTEGER NOT NULL, PRIMARY KEY (purchase_order, kind, invoice, invoice_revision)
) STRICT, WITHOUT ROWID;
CREATE TABLE invoice_charge (
  invoice_revision INTEGER NOT NULL REFERENCES invoice_revision, no INTEGER NOT NULL,
  allowance INTEGER NOT NULL CHECK (allowance IN (0, 1)), kind TEXT NOT NULL,
  reason TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount >= 0), tax_category TEXT NOT NULL,
  tax_rate INTEGER NOT NULL CHECK (tax_rate >= 0), PRIMARY KEY (invoice_revision, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE invoice_tax (
  invoice_revision INTEGER NOT NULL REFERENCES invoice_revision, no INTEGER NOT NULL, category TEXT NOT NULL,
  rate INTEGER NOT NULL CHECK (rate >= 0), amount INTEGER NOT NULL,
  PRIMARY KEY (invoice_revision, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE invoice_state (
  invoice INTEGER PRIMARY KEY REFERENCES invoice,
  state TEXT NOT NULL
    CHECK (state IN ('captured','waiting','held','verified','released','in_payment','paid','void','refused')),
  since TEXT NOT NULL, version INTEGER NOT NULL, revision INTEGER NOT NULL REFERENCES invoice_revision,
  match_run INTEGER REFERENCES match_run,
  supplier INTEGER REFERENCES supplier, number_key TEXT NOT NULL, purchase_order INTEGER REFERENCES purchase_order,
  currency TEXT NOT NULL, total INTEGER NOT NULL, total_base INTEGER NOT NULL DEFAULT 0,
  invoice_date TEXT NOT NULL, due_on TEXT NOT NULL, discount_until TEXT NOT NULL, discount INTEGER NOT NULL,
  open INTEGER NOT NULL DEFAULT 0, blocked INTEGER NOT NULL DEFAULT 0 CHECK (blocked IN (0, 1)), turn TEXT NOT NULL,
  summary TEXT NOT NULL, checked_at TEXT NOT NULL
) STRICT;
CREATE INDEX invoice_state_state ON invoice_state (state, due_on, invoice);
CREATE INDEX invoice_state_since ON invoice_state (since);
CREATE INDEX invoice_state_number ON invoice_state (number_key, supplier);
CREATE INDEX invoice_state_same ON invoice_state (supplier, total, invoice_date);
CREATE INDEX invoice_state_order ON invoice_state (supplier) WHERE purchase_order IS NULL;
-- Decisions that end an invoice or move it on: released, refused, void.
CREATE TABLE invoice_decision (
  id INTEGER PRIMARY KEY, invoice INTEGER NOT NULL REFERENCES invoice,
  decision TEXT NOT NULL CHECK (decision IN ('released', 'taken_back', 'refused', 'void')),
  reason TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX invoice_decision_invoice ON invoice_decision (invoice);
CREATE TABLE match_run (
  id INTEGER PRIMARY KEY, invoice INTEGER NOT NULL REFERENCES invoice,
  revision INTEGER NOT NULL REFERENCES invoice_revision, at TEXT NOT NULL,
  cause TEXT NOT NULL, verdict TEXT NOT NULL CHECK (verdict IN ('agrees', 'within', 'outside', 'waiting')),
  findings TEXT NOT NULL
) STRICT;
CREATE INDEX match_run_invoice ON match_run (invoice);
CREATE TABLE acceptance (
  id INTEGER PRIMARY KEY, invoice INTEGER NOT NULL REFERENCES invoice,
  revision INTEGER NOT NULL REFERENCES invoice_revision, kind TEXT NOT NULL, line INTEGER NOT NULL,
  side TEXT NOT NULL, other INTEGER NOT NULL, order_number INTEGER NOT NULL, charge TEXT NOT NULL,
  difference INTEGER NOT NULL, difference_base INTEGER NOT NULL, excess INTEGER NOT NULL, note TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
-- An acceptance that lapsed answers nothing any more, whatever comes later.
CREATE TABLE acceptance_lapse (acceptance INTEGER PRIMARY KEY REFERENCES acceptance, at TEXT NOT NULL) STRICT;
CREATE INDEX acceptance_revision ON acceptance (revision);
CREATE INDEX invoice_paper ON invoice (paper) WHERE paper IS NOT NULL;
-- What a verified line, a free acceptance,
-- a reversal or a return takes from a receipt line. Billed without a receipt line
-- means beyond receipts (three-way) or matched to the order alone (two-way); awaited is billed, gone back and to be
-- replaced; variance is billed and taken to price variance. Counter-rows carry the opposite sign.
CREATE TABLE allocation (
  id INTEGER PRIMARY KEY, order_line INTEGER NOT NULL REFERENCES order_line,
  receipt_line INTEGER REFERENCES receipt_line, invoice_line INTEGER REFERENCES invoice_line,
  delivery INTEGER REFERENCES delivery,
  kind TEXT NOT NULL CHECK (kind IN ('billed', 'awaited', 'variance', 'free', 'reversed', 'returned', 'credited')),
  quantity INTEGER NOT NULL, value INTEGER NOT NULL, value_base INTEGER NOT NULL,
  order_revision INTEGER NOT NULL,
  CHECK ((kind IN ('billed', 'awaited', 'variance')) = (invoice_line IS NOT NULL))
) STRICT;
CREATE INDEX allocation_order_line ON allocation (order_line);
CREATE INDEX allocation_receipt_line ON allocation (receipt_line);
CREATE INDEX allocation_delivery ON allocation (delivery) WHERE delivery IS NOT NULL;
CREATE INDEX allocation_invoice_line ON allocation (invoice_line);
CREATE TABLE hold (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, invoice INTEGER NOT NULL REFERENCES invoice,
  reason TEXT NOT NULL, note TEXT NOT NULL,
  by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX hold_invoice ON hold (invoice);
CREATE TABLE hold_end (hold INTEGER PRIMARY KEY REFERENCES hold, note TEXT NOT NULL,
  by_person INTEGER REFERENCES person, at TEXT NOT NULL) STRICT;
CREATE TABLE hold_state (hold INTEGER PRIMARY KEY REFERENCES hold, open INTEGER NOT NULL CHECK (open IN (0, 1))) STRICT;
CREATE INDEX hold_open ON hold_state (hold) WHERE open = 1;
CREATE TABLE wake (
  invoice INTEGER PRIMARY KEY REFERENCES invoice, cause TEXT NOT NULL, tries INTEGER NOT NULL DEFAULT 0,
  not_before TEXT NOT NULL, trouble TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE TABLE entry (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, posted_on TEXT NOT NULL, currency TEXT NOT NULL,
  what TEXT NOT NULL,
  document TEXT NOT NULL CHECK (document IN ('delivery', 'invoice', 'order', 'payment')),
  document_number INTEGER NOT NULL, purchase_order INTEGER, by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX entry_document ON entry (document, document_number);
CREATE TABLE entry_line (
  entry INTEGER NOT NULL REFERENCES entry, no INTEGER NOT NULL, role TEXT NOT NULL, detail TEXT NOT NULL,
  bill INTEGER REFERENCES invoice, amount INTEGER NOT NULL, base INTEGER NOT NULL, PRIMARY KEY (entry, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX entry_line_bill ON entry_line (bill) WHERE bill IS NOT NULL;
CREATE INDEX entry_line_role ON entry_line (role, detail);
