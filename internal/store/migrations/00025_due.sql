-- +goose Up
-- What the company decides about payment: whether a discount that is taken reduces input tax, and whose due date counts.
CREATE TABLE company_payment (
  company INTEGER PRIMARY KEY REFERENCES company, reduces_tax INTEGER NOT NULL CHECK (reduces_tax IN (0, 1)),
  due TEXT NOT NULL CHECK (due IN ('ours', 'theirs', 'later'))
) STRICT;
-- That a person took the due date which an invoice states, or the computed one again; the last counts.
CREATE TABLE invoice_due (
  id INTEGER PRIMARY KEY, invoice INTEGER NOT NULL REFERENCES invoice, stated INTEGER NOT NULL CHECK (stated IN (0, 1)),
  note TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX invoice_due_invoice ON invoice_due (invoice);
