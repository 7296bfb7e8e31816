-- +goose Up
-- What suppliers are told of what is paid to them, as it went out, and whether it did.
CREATE TABLE payment_letter (
  id INTEGER PRIMARY KEY, payment INTEGER NOT NULL REFERENCES payment, recipient TEXT NOT NULL, subject TEXT NOT NULL,
  text TEXT NOT NULL, mail INTEGER NOT NULL REFERENCES paper, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX payment_letter_payment ON payment_letter (payment);
CREATE TABLE payment_letter_state (
  letter INTEGER PRIMARY KEY REFERENCES payment_letter,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'sent', 'kept', 'failed')), tries INTEGER NOT NULL, trouble TEXT NOT NULL
) STRICT;
CREATE INDEX advice_waiting ON payment_letter_state (letter) WHERE state = 'waiting';
