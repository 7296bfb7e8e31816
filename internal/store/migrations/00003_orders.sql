-- +goose Up
-- Orders, and what suppliers were sent of them.

-- Orders stand as they are now; every version that a supplier may have seen stays in order_version.
CREATE TABLE purchase_order (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, supplier INTEGER NOT NULL REFERENCES supplier,
  currency TEXT NOT NULL,
  rate INTEGER NOT NULL CHECK (rate > 0), issued_on TEXT NOT NULL, wanted_on TEXT NOT NULL, about TEXT NOT NULL,
  requested_by TEXT NOT NULL, place TEXT NOT NULL, elsewhere TEXT NOT NULL,
  their_reference TEXT NOT NULL, contact TEXT NOT NULL, instructions TEXT NOT NULL, note TEXT NOT NULL,
  revision INTEGER NOT NULL, made_by INTEGER REFERENCES person
) STRICT;
CREATE INDEX purchase_order_supplier ON purchase_order (supplier, number);
CREATE INDEX purchase_order_made_by ON purchase_order (made_by);
CREATE TABLE order_line (
  id INTEGER PRIMARY KEY, purchase_order INTEGER NOT NULL REFERENCES purchase_order, no INTEGER NOT NULL,
  item INTEGER REFERENCES item,
  supplier_code TEXT NOT NULL, description TEXT NOT NULL, quantity INTEGER NOT NULL CHECK (quantity > 0),
  unit TEXT NOT NULL,
  whole INTEGER NOT NULL CHECK (whole IN (0, 1)), lots INTEGER NOT NULL CHECK (lots IN (0, 1)),
  price INTEGER NOT NULL CHECK (price >= 0), base INTEGER NOT NULL CHECK (base > 0),
  agreed INTEGER CHECK (agreed >= 0), discount INTEGER NOT NULL, charge INTEGER NOT NULL, net INTEGER NOT NULL,
  tax_category TEXT NOT NULL, tax_rate INTEGER NOT NULL CHECK (tax_rate >= 0),
  budget TEXT NOT NULL REFERENCES budget, budget_line INTEGER, wanted_on TEXT NOT NULL, note TEXT NOT NULL,
  match_level TEXT CHECK (match_level IN ('two_way', 'three_way')),
  UNIQUE (purchase_order, no)
) STRICT;
CREATE INDEX order_line_item ON order_line (item, id) WHERE item IS NOT NULL;
CREATE INDEX order_line_budget ON order_line (budget, budget_line) WHERE budget_line IS NOT NULL;
-- Charges that the order plans; a charge of nothing is taken out.
CREATE TABLE order_charge (
  purchase_order INTEGER NOT NULL REFERENCES purchase_order, no INTEGER NOT NULL, kind TEXT NOT NULL,
  description TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount >= 0),
  tax_category TEXT NOT NULL, tax_rate INTEGER NOT NULL CHECK (tax_rate >= 0), PRIMARY KEY (purchase_order, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE order_version (
  purchase_order INTEGER NOT NULL REFERENCES purchase_order, revision INTEGER NOT NULL, body BLOB NOT NULL,
  reason TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL,
  PRIMARY KEY (purchase_order, revision)
) STRICT;
-- Under which name a table told an order, with a hash of what it said: the same table again makes nothing twice.
CREATE TABLE order_import (
  supplier TEXT NOT NULL, name TEXT NOT NULL, says TEXT NOT NULL,
  purchase_order INTEGER NOT NULL REFERENCES purchase_order (number), PRIMARY KEY (supplier, name)
) STRICT;
-- What a supplier was sent, or told otherwise, and what the supplier answered.
CREATE TABLE order_sending (
  id INTEGER PRIMARY KEY, purchase_order INTEGER NOT NULL REFERENCES purchase_order, revision INTEGER NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('order', 'reminder', 'cancellation', 'return')),
  way TEXT NOT NULL CHECK (way IN ('mail', 'otherwise')), recipient TEXT NOT NULL, subject TEXT NOT NULL,
  text TEXT NOT NULL, prices INTEGER NOT NULL CHECK (prices IN (0, 1)),
  mail INTEGER REFERENCES paper, by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX order_sending_order ON order_sending (purchase_order);
CREATE TABLE sending_state (
  sending INTEGER PRIMARY KEY REFERENCES order_sending,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'sent', 'kept', 'failed')), tries INTEGER NOT NULL,
  trouble TEXT NOT NULL
) STRICT;
CREATE INDEX sending_waiting ON sending_state (sending) WHERE state = 'waiting';
CREATE TABLE order_answer (
  id INTEGER PRIMARY KEY, purchase_order INTEGER NOT NULL REFERENCES purchase_order, revision INTEGER NOT NULL,
  reference TEXT NOT NULL, promised_on TEXT NOT NULL,
  by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX order_answer_order ON order_answer (purchase_order);
-- An order that is being written; what was typed is kept as it is.
CREATE TABLE order_draft (
  number INTEGER PRIMARY KEY, version INTEGER NOT NULL CHECK (version > 0), supplier TEXT NOT NULL,
  entry TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('open', 'issued', 'discarded')), purchase_order INTEGER
) STRICT;
CREATE INDEX order_draft_open ON order_draft (number) WHERE state = 'open';
CREATE TABLE order_state (
  purchase_order INTEGER PRIMARY KEY REFERENCES purchase_order,
  state TEXT NOT NULL CHECK (state IN ('draft', 'issued', 'closed', 'cancelled')),
  version INTEGER NOT NULL, open_goods INTEGER NOT NULL CHECK (open_goods IN (0, 1)), wanted_on TEXT NOT NULL
) STRICT;
CREATE INDEX order_expected ON order_state (wanted_on, purchase_order) WHERE open_goods = 1;
CREATE TABLE order_line_state (
  order_line INTEGER PRIMARY KEY REFERENCES order_line, received INTEGER NOT NULL CHECK (received >= 0),
  billed INTEGER NOT NULL CHECK (billed >= 0),
  returned INTEGER NOT NULL CHECK (returned >= 0), closed_goods INTEGER NOT NULL CHECK (closed_goods IN (0, 1)),
  closed_invoices INTEGER NOT NULL CHECK (closed_invoices IN (0, 1)),
  match_level TEXT CHECK (match_level IN ('two_way', 'three_way')),
  account TEXT CHECK (account IN ('stock', 'expense')),
  dearer INTEGER NOT NULL CHECK (dearer >= 0), cheaper INTEGER NOT NULL CHECK (cheaper >= 0),
  CHECK ((match_level IS NULL) = (account IS NULL))
) STRICT;
