-- +goose Up
-- What comes, what came and what went back.

-- Advance shipping notices: what a supplier says is on its way.
CREATE TABLE notice (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, purchase_order INTEGER NOT NULL REFERENCES purchase_order,
  reference TEXT NOT NULL, reference_key TEXT NOT NULL,
  expected_on TEXT NOT NULL, carrier TEXT NOT NULL, paper INTEGER REFERENCES paper,
  by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX notice_order ON notice (purchase_order);
CREATE TABLE notice_line (
  notice INTEGER NOT NULL REFERENCES notice, no INTEGER NOT NULL, order_line INTEGER NOT NULL REFERENCES order_line,
  quantity INTEGER NOT NULL CHECK (quantity > 0), lot TEXT NOT NULL,
  PRIMARY KEY (notice, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE notice_state (
  notice INTEGER PRIMARY KEY REFERENCES notice, state TEXT NOT NULL CHECK (state IN ('open', 'arrived', 'withdrawn')),
  expected_on TEXT NOT NULL, delivery INTEGER REFERENCES delivery
) STRICT;
CREATE INDEX notice_open ON notice_state (expected_on, notice) WHERE state = 'open';
-- A delivery as it was counted at the door, for another person to book.
CREATE TABLE arrival (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, purchase_order INTEGER NOT NULL REFERENCES purchase_order,
  entry TEXT NOT NULL, counted_by INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX arrival_order ON arrival (purchase_order);
CREATE TABLE arrival_state (
  arrival INTEGER PRIMARY KEY REFERENCES arrival, state TEXT NOT NULL CHECK (state IN ('open', 'booked', 'discarded')),
  delivery INTEGER REFERENCES delivery
) STRICT;
CREATE INDEX arrival_open ON arrival_state (arrival) WHERE state = 'open';
-- A document about goods: a delivery, an acceptance as free of charge, or what undoes or answers one: the reversal of a
-- booking, the return of goods.
CREATE TABLE delivery (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE,
  kind TEXT NOT NULL CHECK (kind IN ('delivery', 'reversal', 'return', 'free')),
  purchase_order INTEGER NOT NULL REFERENCES purchase_order,
  against INTEGER REFERENCES delivery, outcome TEXT CHECK (outcome IN ('replacement', 'credit')), note TEXT NOT NULL,
  note_key TEXT NOT NULL, arrived_on TEXT NOT NULL, posted_on TEXT NOT NULL, place TEXT NOT NULL,
  condition TEXT NOT NULL, reason TEXT NOT NULL, second_part INTEGER NOT NULL CHECK (second_part IN (0, 1)),
  no_note INTEGER NOT NULL CHECK (no_note IN (0, 1)), stated INTEGER, stated_why TEXT NOT NULL,
  booked_by INTEGER REFERENCES person, booked_at TEXT NOT NULL,
  CHECK ((kind IN ('delivery', 'free')) = (against IS NULL)), CHECK ((kind = 'return') = (outcome IS NOT NULL))
) STRICT;
CREATE INDEX delivery_order ON delivery (purchase_order);
CREATE INDEX delivery_note ON delivery (note_key);
CREATE INDEX delivery_against ON delivery (against) WHERE against IS NOT NULL;
CREATE TABLE receipt_line (
  id INTEGER PRIMARY KEY, delivery INTEGER NOT NULL REFERENCES delivery,
  order_line INTEGER NOT NULL REFERENCES order_line,
  quantity INTEGER NOT NULL CHECK (quantity >= 0), refused INTEGER NOT NULL CHECK (refused >= 0),
  refused_reason TEXT NOT NULL, remark TEXT NOT NULL, counted INTEGER NOT NULL, counted_unit TEXT NOT NULL,
  value INTEGER NOT NULL, value_base INTEGER NOT NULL, rate INTEGER NOT NULL CHECK (rate > 0),
  order_revision INTEGER NOT NULL
) STRICT;
CREATE INDEX receipt_line_order_line ON receipt_line (order_line, id);
CREATE INDEX receipt_line_delivery ON receipt_line (delivery);
CREATE TABLE receipt_lot (
  receipt_line INTEGER NOT NULL REFERENCES receipt_line, no INTEGER NOT NULL, lot TEXT NOT NULL,
  quantity INTEGER NOT NULL CHECK (quantity > 0), best_before TEXT NOT NULL,
  PRIMARY KEY (receipt_line, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE return_lot (
  delivery INTEGER NOT NULL REFERENCES delivery, receipt_line INTEGER NOT NULL REFERENCES receipt_line,
  no INTEGER NOT NULL, lot TEXT NOT NULL, quantity INTEGER NOT NULL CHECK (quantity > 0),
  PRIMARY KEY (delivery, receipt_line, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX return_lot_receipt_line ON return_lot (receipt_line);
CREATE TABLE delivery_photo (delivery INTEGER NOT NULL REFERENCES delivery, no INTEGER NOT NULL,
  paper INTEGER NOT NULL REFERENCES paper, PRIMARY KEY (delivery, no)) STRICT, WITHOUT ROWID;
CREATE TABLE line_close (
  id INTEGER PRIMARY KEY, order_line INTEGER NOT NULL REFERENCES order_line, delivery INTEGER REFERENCES delivery,
  goods INTEGER NOT NULL CHECK (goods IN (-1, 0, 1)), invoices INTEGER NOT NULL CHECK (invoices IN (-1, 0, 1)),
  reason TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX line_close_line ON line_close (order_line);
CREATE INDEX line_close_delivery ON line_close (delivery);
