-- +goose Up
-- The ways by which mails and files come in by themselves, as they are set up. The secret of a mailbox is not kept here: no backup of the books
-- and no list of them carries it.
CREATE TABLE way_in (
  way TEXT PRIMARY KEY CHECK (way IN ('folder', 'smtp', 'imap')), live INTEGER NOT NULL CHECK (live IN (0, 1)),
  address TEXT NOT NULL, login TEXT NOT NULL, security TEXT NOT NULL CHECK (security IN ('', 'tls', 'starttls', 'none')), box TEXT NOT NULL,
  since TEXT NOT NULL, token INTEGER NOT NULL CHECK (token IN (0, 1)), read_only INTEGER NOT NULL CHECK (read_only IN (0, 1)),
  seconds INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
-- Whom an invoice is with, of those whose turn it may be: who took it over, or was handed it.
CREATE TABLE invoice_keeper (
  invoice INTEGER PRIMARY KEY REFERENCES invoice, person INTEGER REFERENCES person, note TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
-- How many days before goods are wanted their despatch notice is to be here: of a supplier (0: the company), or of one order; below zero:
-- none is required.
CREATE TABLE notice_days (supplier INTEGER PRIMARY KEY, days INTEGER) STRICT;
CREATE TABLE order_notice (purchase_order INTEGER PRIMARY KEY REFERENCES purchase_order, days INTEGER) STRICT;
