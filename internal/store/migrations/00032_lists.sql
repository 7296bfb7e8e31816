-- +goose Up
-- Lists that are looked up: what each of them is found by, and what people keep of them.
CREATE INDEX invoice_state_supplier ON invoice_state (supplier, invoice);
CREATE INDEX receipt_lot_lot ON receipt_lot (lot);
-- A list as somebody keeps it under a name, for themselves or for all, with what was asked of it (JSON).
CREATE TABLE kept_list (
  number INTEGER PRIMARY KEY, name TEXT NOT NULL, list TEXT NOT NULL, asked TEXT NOT NULL,
  for_all INTEGER NOT NULL CHECK (for_all IN (0, 1)), by_person INTEGER NOT NULL REFERENCES person,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1))
) STRICT;

