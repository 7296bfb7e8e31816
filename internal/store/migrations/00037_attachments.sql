-- +goose Up
-- A paper that somebody put to a document, or to what is ordered, at any time; one that was taken away stays in the books.
CREATE TABLE attachment (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, paper INTEGER NOT NULL REFERENCES paper, name TEXT NOT NULL,
  invoice INTEGER REFERENCES invoice, purchase_order INTEGER REFERENCES purchase_order, delivery INTEGER REFERENCES delivery,
  item INTEGER REFERENCES item, supplier INTEGER REFERENCES supplier, budget TEXT REFERENCES budget,
  note TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL,
  CHECK ((invoice IS NOT NULL) + (purchase_order IS NOT NULL) + (delivery IS NOT NULL) + (item IS NOT NULL) + (supplier IS NOT NULL) + (budget IS NOT NULL) = 1)
) STRICT;
CREATE INDEX attachment_invoice ON attachment (invoice) WHERE invoice IS NOT NULL;
CREATE INDEX attachment_order ON attachment (purchase_order) WHERE purchase_order IS NOT NULL;
CREATE INDEX attachment_delivery ON attachment (delivery) WHERE delivery IS NOT NULL;
CREATE INDEX attachment_item ON attachment (item) WHERE item IS NOT NULL;
CREATE INDEX attachment_supplier ON attachment (supplier) WHERE supplier IS NOT NULL;
CREATE INDEX attachment_budget ON attachment (budget) WHERE budget IS NOT NULL;
CREATE TABLE attachment_end (
  attachment INTEGER PRIMARY KEY REFERENCES attachment, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
-- The papers that went to a supplier with a sending.
CREATE TABLE sending_attachment (
  sending INTEGER NOT NULL REFERENCES order_sending, attachment INTEGER NOT NULL REFERENCES attachment, PRIMARY KEY (sending, attachment)
) STRICT, WITHOUT ROWID;
-- Whether a paper went to a supplier with a sending of a kind, the last time that it could: that is proposed.
CREATE TABLE enclosing (
  supplier INTEGER NOT NULL REFERENCES supplier, kind TEXT NOT NULL, attachment INTEGER NOT NULL REFERENCES attachment,
  goes INTEGER NOT NULL CHECK (goes IN (0, 1)), PRIMARY KEY (supplier, kind, attachment)
) STRICT, WITHOUT ROWID;
-- What the page of a file says otherwise than the file: another number, total or account.
CREATE TABLE invoice_page (
  invoice_revision INTEGER PRIMARY KEY REFERENCES invoice_revision, number TEXT NOT NULL, total INTEGER NOT NULL, iban TEXT NOT NULL
) STRICT;
-- How a supplier knows us, and is known: our customer number there, what is always written to it, and the other names it goes by.
CREATE TABLE supplier_known (
  supplier INTEGER PRIMARY KEY REFERENCES supplier, customer_number TEXT NOT NULL, standing_text TEXT NOT NULL
) STRICT;
CREATE TABLE supplier_other_name (
  supplier INTEGER NOT NULL REFERENCES supplier, name TEXT NOT NULL, ended INTEGER NOT NULL CHECK (ended IN (0, 1)),
  PRIMARY KEY (supplier, name)
) STRICT, WITHOUT ROWID;
CREATE INDEX supplier_called ON supplier_other_name (name COLLATE NOCASE) WHERE ended = 0;
-- Invoices that are keyed many at once; what was typed is kept as it is.
CREATE TABLE batch (number INTEGER PRIMARY KEY, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL) STRICT;
CREATE TABLE batch_state (
  batch INTEGER PRIMARY KEY REFERENCES batch, version INTEGER NOT NULL CHECK (version > 0),
  state TEXT NOT NULL CHECK (state IN ('open', 'running', 'stopped', 'done', 'dropped')), since TEXT NOT NULL, trouble TEXT NOT NULL,
  content TEXT NOT NULL
) STRICT;
CREATE INDEX batch_running ON batch_state (batch) WHERE state = 'running';
CREATE INDEX batch_open ON batch_state (batch) WHERE state IN ('open', 'running', 'stopped');
CREATE TABLE batch_invoice (
  batch INTEGER NOT NULL REFERENCES batch, no INTEGER NOT NULL CHECK (no > 0), invoice INTEGER NOT NULL UNIQUE REFERENCES invoice,
  PRIMARY KEY (batch, no)
) STRICT, WITHOUT ROWID;
