-- +goose Up
-- What a supplier always grants on the whole of an order; no kind of charge is called so.
CREATE TABLE supplier_discount (
  supplier INTEGER PRIMARY KEY REFERENCES supplier,
  percent INTEGER NOT NULL CHECK (percent >= 0), amount INTEGER NOT NULL CHECK (amount >= 0)
) STRICT;
