-- +goose Up
-- Terms in several steps: further discounts and instalments, of suppliers as they are typed, of invoices as they came to be.
CREATE TABLE supplier_steps (
  supplier INTEGER PRIMARY KEY REFERENCES supplier, discounts TEXT NOT NULL, instalments TEXT NOT NULL
) STRICT;
CREATE TABLE invoice_plan (
  invoice INTEGER PRIMARY KEY REFERENCES invoice, discounts TEXT NOT NULL, instalments TEXT NOT NULL
) STRICT;
