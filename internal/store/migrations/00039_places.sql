-- +goose Up
-- Where goods are delivered to, beside the company's own place of delivery, and who receives there.
CREATE TABLE delivery_place (
  name TEXT PRIMARY KEY, address TEXT NOT NULL, ended INTEGER NOT NULL CHECK (ended IN (0, 1))
) STRICT, WITHOUT ROWID;
CREATE TABLE delivery_place_receiver (
  place TEXT NOT NULL REFERENCES delivery_place, person INTEGER NOT NULL REFERENCES person,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (place, person)
) STRICT, WITHOUT ROWID;
-- What a run of invoices that we write ourselves selects, kept under a name.
CREATE TABLE self_billing_kept (
  name TEXT PRIMARY KEY, supplier TEXT NOT NULL, place TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1))
) STRICT, WITHOUT ROWID;
-- Where a person is written to by mail; empty: nowhere.
CREATE TABLE person_mail (person INTEGER PRIMARY KEY REFERENCES person, address TEXT NOT NULL) STRICT;
-- What goes out on a day of a kept list goes to each colleague once, with what is theirs.
DROP INDEX list_mail_week;
CREATE UNIQUE INDEX list_mail_week ON list_mail (kept, week, recipient, subject) WHERE kept IS NOT NULL;
-- Who is paid for one invoice in the place of its supplier (none: its supplier again), why, and which other person confirmed it after a check.
CREATE TABLE invoice_payee (
  invoice INTEGER PRIMARY KEY REFERENCES invoice, payee INTEGER REFERENCES supplier, note TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL, confirmed_by INTEGER REFERENCES person, checked TEXT NOT NULL
) STRICT;
-- Accounts of ours that money leaves, beside the company's own, in its currency.
CREATE TABLE debit_account (
  iban TEXT PRIMARY KEY, bic TEXT NOT NULL, name TEXT NOT NULL, ended INTEGER NOT NULL CHECK (ended IN (0, 1))
) STRICT, WITHOUT ROWID;
