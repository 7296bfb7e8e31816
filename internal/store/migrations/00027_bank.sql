-- +goose Up
-- What the bank says of our account: statements and notifications, line by line, and what each line was set against. Amounts
-- are in the account's currency, which is the company's; below zero the bank took it. A notification has no balances, and
-- is only read for the payments that it names.
CREATE TABLE bank_statement (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, ident TEXT NOT NULL, iban TEXT NOT NULL,
  notification INTEGER NOT NULL CHECK (notification IN (0, 1)), from_day TEXT NOT NULL, to_day TEXT NOT NULL,
  opening INTEGER NOT NULL, closing INTEGER NOT NULL, paper INTEGER NOT NULL REFERENCES paper,
  by_person INTEGER REFERENCES person, at TEXT NOT NULL,
  UNIQUE (iban, notification, ident)
) STRICT;
CREATE INDEX bank_statement_day ON bank_statement (notification, iban, to_day);
CREATE TABLE bank_line (
  id INTEGER PRIMARY KEY, statement INTEGER NOT NULL REFERENCES bank_statement, no INTEGER NOT NULL, day TEXT NOT NULL,
  amount INTEGER NOT NULL, charge INTEGER NOT NULL CHECK (charge >= 0), end_to_end TEXT NOT NULL, reference TEXT NOT NULL,
  name TEXT NOT NULL, iban TEXT NOT NULL, text TEXT NOT NULL, code TEXT NOT NULL, reason TEXT NOT NULL,
  UNIQUE (statement, no)
) STRICT;
-- A payment debited or given back, a charge of the bank, an invoice paid or a credit note refunded (settlement), or none of
-- ours (aside). Entry is the number of the ledger entry that it made, where it made one.
CREATE TABLE bank_line_set (
  id INTEGER PRIMARY KEY, line INTEGER NOT NULL REFERENCES bank_line,
  what TEXT NOT NULL CHECK (what IN ('debited', 'given_back', 'charge', 'settlement', 'aside')), amount INTEGER NOT NULL,
  payment INTEGER REFERENCES payment, settlement INTEGER REFERENCES settlement, entry INTEGER, note TEXT NOT NULL,
  by_person INTEGER REFERENCES person, at TEXT NOT NULL,
  CHECK ((payment IS NOT NULL) = (what IN ('debited', 'given_back'))), CHECK ((settlement IS NOT NULL) = (what = 'settlement'))
) STRICT;
CREATE INDEX bank_line_set_line ON bank_line_set (line);
CREATE INDEX bank_line_aside ON bank_line_set (line) WHERE what = 'aside';
CREATE INDEX bank_line_set_payment ON bank_line_set (payment);
CREATE INDEX bank_line_set_settlement ON bank_line_set (settlement);
CREATE TABLE bank_line_set_end (
  bank_line_set INTEGER PRIMARY KEY REFERENCES bank_line_set, reason TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person,
  at TEXT NOT NULL
) STRICT;
-- What of a line of a statement is set against nothing yet, and what is to be said of it.
CREATE TABLE bank_line_state (
  line INTEGER PRIMARY KEY REFERENCES bank_line, rest INTEGER NOT NULL, trouble TEXT NOT NULL
) STRICT;
CREATE INDEX bank_line_open ON bank_line_state (line) WHERE rest <> 0;
-- What of a ledger entry's movement of the bank account, by the entry's number, is on no statement yet; in company currency.
CREATE TABLE bank_booking (entry INTEGER PRIMARY KEY, rest INTEGER NOT NULL) STRICT;
CREATE INDEX bank_booking_open ON bank_booking (entry) WHERE rest <> 0;
CREATE INDEX settlement_entry ON settlement (entry);
