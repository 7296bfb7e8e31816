-- +goose Up
-- Tax codes: a category of UNCL 5305 with its rates, each from a day on; what carries which code; and of an invoice the
-- day of its tax point and, under reverse charge, the rate at which we owe the tax.
CREATE TABLE tax_code (
  code TEXT PRIMARY KEY, name TEXT NOT NULL, category TEXT NOT NULL, ended INTEGER NOT NULL CHECK (ended IN (0, 1))
) STRICT, WITHOUT ROWID;
-- A rate of nothing was taken out again.
CREATE TABLE tax_code_rate (
  code TEXT NOT NULL REFERENCES tax_code, from_day TEXT NOT NULL, rate INTEGER CHECK (rate >= 0),
  PRIMARY KEY (code, from_day)
) STRICT, WITHOUT ROWID;
CREATE TABLE supplier_tax (supplier INTEGER PRIMARY KEY REFERENCES supplier, code TEXT REFERENCES tax_code) STRICT;
CREATE TABLE item_tax (item INTEGER PRIMARY KEY REFERENCES item, code TEXT REFERENCES tax_code) STRICT;
CREATE TABLE order_line_tax (
  order_line INTEGER PRIMARY KEY REFERENCES order_line, code TEXT REFERENCES tax_code
) STRICT;
CREATE TABLE invoice_line_tax (
  invoice_line INTEGER PRIMARY KEY REFERENCES invoice_line, code TEXT NOT NULL REFERENCES tax_code,
  own_rate INTEGER CHECK (own_rate >= 0)
) STRICT;
CREATE TABLE invoice_tax_point (
  invoice_revision INTEGER PRIMARY KEY REFERENCES invoice_revision, day TEXT NOT NULL
) STRICT;
