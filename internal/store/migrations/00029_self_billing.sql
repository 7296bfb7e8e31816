-- +goose Up
-- With whom it is agreed that we write the invoices ourselves, from when to when, for which items (JSON; none: all), in which
-- series of numbers, with which statement on them; per receipt, order or period. Of one supplier the last that stands counts.
CREATE TABLE self_billing (
  id INTEGER PRIMARY KEY, supplier INTEGER NOT NULL REFERENCES supplier, from_day TEXT NOT NULL, until_day TEXT NOT NULL,
  prefix TEXT NOT NULL, per TEXT NOT NULL CHECK (per IN ('receipt', 'order', 'period')), statement TEXT NOT NULL,
  items TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX self_billing_supplier ON self_billing (supplier);
-- Order lines that we bill ourselves, as it was agreed when they were ordered.
CREATE TABLE order_line_self_billed (order_line INTEGER PRIMARY KEY REFERENCES order_line) STRICT;
-- Invoices that we wrote, and their numbers in the series.
CREATE TABLE self_billed (
  invoice INTEGER PRIMARY KEY REFERENCES invoice, supplier INTEGER NOT NULL REFERENCES supplier, number INTEGER NOT NULL,
  UNIQUE (supplier, number)
) STRICT;
