-- +goose Up
-- Suppliers, and the items that are bought of them. Masters are changed in place; what is taken out stays as ended.
-- Purposes, stages and holds are lists of words.

CREATE TABLE supplier (
  id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE, name TEXT NOT NULL,
  not_yet INTEGER NOT NULL CHECK (not_yet IN (0, 1)), once INTEGER NOT NULL CHECK (once IN (0, 1)),
  tax_id TEXT NOT NULL, untaxed INTEGER NOT NULL CHECK (untaxed IN (0, 1)), country TEXT NOT NULL,
  language TEXT NOT NULL,
  currency TEXT NOT NULL, holds TEXT NOT NULL,
  iban TEXT NOT NULL, bic TEXT NOT NULL, account_by INTEGER REFERENCES person, pay_to INTEGER REFERENCES supplier,
  match_level TEXT CHECK (match_level IN ('two_way', 'three_way')),
  from_receipt INTEGER NOT NULL CHECK (from_receipt IN (0, 1)), net_days INTEGER NOT NULL CHECK (net_days >= 0),
  end_of_month INTEGER NOT NULL CHECK (end_of_month IN (0, 1)),
  day_of_month INTEGER NOT NULL CHECK (day_of_month BETWEEN 0 AND 31),
  discount_percent INTEGER NOT NULL CHECK (discount_percent >= 0),
  discount_days INTEGER NOT NULL CHECK (discount_days >= 0),
  budget TEXT REFERENCES budget, least_order INTEGER NOT NULL CHECK (least_order >= 0),
  free_freight INTEGER NOT NULL CHECK (free_freight >= 0),
  closed_days TEXT NOT NULL, incomplete INTEGER NOT NULL CHECK (incomplete IN (0, 1)), version INTEGER NOT NULL
) STRICT;
CREATE INDEX supplier_tax_id ON supplier (tax_id);
CREATE INDEX supplier_iban ON supplier (iban);
CREATE INDEX supplier_pay_to ON supplier (pay_to) WHERE pay_to IS NOT NULL;
CREATE INDEX supplier_name ON supplier (name COLLATE NOCASE);
CREATE TABLE supplier_address (
  supplier INTEGER NOT NULL REFERENCES supplier, no INTEGER NOT NULL, purposes TEXT NOT NULL, street TEXT NOT NULL,
  city TEXT NOT NULL, region TEXT NOT NULL,
  postcode TEXT NOT NULL, country TEXT NOT NULL, ended INTEGER NOT NULL CHECK (ended IN (0, 1)),
  PRIMARY KEY (supplier, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE supplier_account (
  supplier INTEGER NOT NULL REFERENCES supplier, no INTEGER NOT NULL, iban TEXT NOT NULL, bic TEXT NOT NULL,
  by_person INTEGER REFERENCES person,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (supplier, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX supplier_account_iban ON supplier_account (iban);
CREATE TABLE contact (
  number INTEGER PRIMARY KEY, name TEXT NOT NULL, role TEXT NOT NULL, mail TEXT NOT NULL, phone TEXT NOT NULL,
  language TEXT NOT NULL
) STRICT;
CREATE TABLE contact_supplier (
  contact INTEGER NOT NULL REFERENCES contact, supplier INTEGER NOT NULL REFERENCES supplier, purposes TEXT NOT NULL,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (contact, supplier)
) STRICT, WITHOUT ROWID;
CREATE INDEX contact_supplier_supplier ON contact_supplier (supplier);
CREATE TABLE supplier_note (
  supplier INTEGER NOT NULL REFERENCES supplier, no INTEGER NOT NULL, kind TEXT NOT NULL,
  urgent INTEGER NOT NULL CHECK (urgent IN (0, 1)), text TEXT NOT NULL,
  from_day TEXT NOT NULL, until_day TEXT NOT NULL, stages TEXT NOT NULL, by_person INTEGER REFERENCES person,
  at TEXT NOT NULL, ended INTEGER NOT NULL CHECK (ended IN (0, 1)),
  PRIMARY KEY (supplier, no)
) STRICT, WITHOUT ROWID;
-- Decisions about a supplier that need a reason: a hold put on or taken off, its bank account and who confirmed it.
CREATE TABLE supplier_decision (
  id INTEGER PRIMARY KEY, supplier INTEGER NOT NULL REFERENCES supplier,
  what TEXT NOT NULL CHECK (what IN ('hold', 'account', 'payee', 'confirmed')),
  was TEXT NOT NULL, becomes TEXT NOT NULL, reason TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX supplier_decision_supplier ON supplier_decision (supplier);
CREATE TABLE item (
  id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE, name TEXT NOT NULL, unit TEXT NOT NULL,
  whole INTEGER NOT NULL CHECK (whole IN (0, 1)),
  match_level TEXT CHECK (match_level IN ('two_way', 'three_way')), base INTEGER NOT NULL CHECK (base > 0),
  lots INTEGER NOT NULL CHECK (lots IN (0, 1)),
  account TEXT CHECK (account IN ('stock', 'expense')), budget TEXT REFERENCES budget,
  incomplete INTEGER NOT NULL CHECK (incomplete IN (0, 1)), version INTEGER NOT NULL
) STRICT;
CREATE INDEX item_name ON item (name COLLATE NOCASE);
CREATE TABLE item_supplier (
  item INTEGER NOT NULL REFERENCES item, supplier INTEGER NOT NULL REFERENCES supplier, code TEXT NOT NULL,
  match_level TEXT CHECK (match_level IN ('two_way', 'three_way')),
  base INTEGER, lots INTEGER CHECK (lots IN (0, 1)), ended INTEGER NOT NULL CHECK (ended IN (0, 1)),
  PRIMARY KEY (item, supplier)
) STRICT, WITHOUT ROWID;
CREATE INDEX item_supplier_code ON item_supplier (supplier, code);
-- So many of a unit make so many of the item's own; supplier 0 is all of them. Making nothing ends it.
CREATE TABLE item_unit (
  item INTEGER NOT NULL REFERENCES item, supplier INTEGER NOT NULL, unit TEXT NOT NULL,
  units INTEGER NOT NULL CHECK (units > 0), makes INTEGER NOT NULL CHECK (makes >= 0),
  PRIMARY KEY (item, supplier, unit)
) STRICT, WITHOUT ROWID;
CREATE TABLE agreed_price (
  supplier INTEGER NOT NULL REFERENCES supplier, item INTEGER NOT NULL REFERENCES item, from_day TEXT NOT NULL,
  least INTEGER NOT NULL CHECK (least >= 0),
  until_day TEXT NOT NULL, price INTEGER NOT NULL CHECK (price >= 0), base INTEGER NOT NULL CHECK (base > 0),
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)),
  PRIMARY KEY (supplier, item, from_day, least)
) STRICT, WITHOUT ROWID;
