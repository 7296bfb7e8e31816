-- +goose Up
-- What a kind of charge is taxed as where nothing else is said, and whether it is a part of what the goods cost.
CREATE TABLE charge_kind_more (
  charge_kind TEXT PRIMARY KEY REFERENCES charge_kind, tax_code TEXT NOT NULL,
  in_goods INTEGER NOT NULL CHECK (in_goods IN (0, 1))
) STRICT, WITHOUT ROWID;
-- What a supplier always charges: per cent of the goods, or an amount in its currency; neither: no more.
CREATE TABLE supplier_charge (
  supplier INTEGER NOT NULL REFERENCES supplier, charge_kind TEXT NOT NULL REFERENCES charge_kind,
  percent INTEGER NOT NULL CHECK (percent >= 0), amount INTEGER NOT NULL CHECK (amount >= 0),
  PRIMARY KEY (supplier, charge_kind)
) STRICT, WITHOUT ROWID;
-- Limits of a kind of charge stand under a scope of their own.
