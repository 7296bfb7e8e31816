-- +goose Up
-- Payment runs and what the bank answered.

CREATE TABLE payment_run (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, due_by TEXT NOT NULL, pay_on TEXT NOT NULL,
  iban TEXT NOT NULL, bic TEXT NOT NULL, made_by INTEGER REFERENCES person, made_at TEXT NOT NULL
) STRICT;
CREATE TABLE payment (
  id INTEGER PRIMARY KEY, run INTEGER NOT NULL REFERENCES payment_run, end_to_end TEXT NOT NULL UNIQUE,
  supplier INTEGER NOT NULL REFERENCES supplier,
  currency TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount > 0), payee TEXT NOT NULL, iban TEXT NOT NULL,
  bic TEXT NOT NULL
) STRICT;
CREATE INDEX payment_of_run ON payment (run);
CREATE INDEX payment_to ON payment (supplier, iban);
CREATE TABLE payment_item (
  id INTEGER PRIMARY KEY, payment INTEGER NOT NULL REFERENCES payment, invoice INTEGER NOT NULL REFERENCES invoice,
  amount INTEGER NOT NULL CHECK (amount > 0), discount INTEGER NOT NULL CHECK (discount >= 0)
) STRICT;
CREATE INDEX payment_item_payment ON payment_item (payment);
CREATE INDEX payment_item_invoice ON payment_item (invoice);
CREATE TABLE run_state (
  run INTEGER PRIMARY KEY REFERENCES payment_run,
  state TEXT NOT NULL CHECK (state IN ('proposed', 'approved', 'sent', 'answered', 'discarded', 'taken_back', 'lost')),
  version INTEGER NOT NULL,
  approved_by INTEGER REFERENCES person, approved_at TEXT NOT NULL DEFAULT '', message TEXT NOT NULL DEFAULT '',
  paper INTEGER REFERENCES paper
) STRICT;
CREATE INDEX run_state_state ON run_state (state);
CREATE INDEX run_state_message ON run_state (message);
CREATE TABLE payment_state (payment INTEGER PRIMARY KEY REFERENCES payment,
  state TEXT NOT NULL CHECK (state IN ('proposed', 'approved', 'in_transit', 'settled', 'rejected', 'discarded')),
  reason TEXT NOT NULL DEFAULT '') STRICT;
CREATE INDEX payment_rejected ON payment_state (payment) WHERE state = 'rejected';
CREATE TABLE bank_answer (id INTEGER PRIMARY KEY, message TEXT NOT NULL UNIQUE,
  run INTEGER NOT NULL REFERENCES payment_run, paper INTEGER NOT NULL REFERENCES paper, at TEXT NOT NULL) STRICT;
CREATE INDEX bank_answer_run ON bank_answer (run);
