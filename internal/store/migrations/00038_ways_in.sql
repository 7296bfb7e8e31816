-- +goose Up
-- The ways by which mails and files come in by themselves, as they are set up. The secret of a mailbox is not kept here: no backup of the books
-- and no list of them carries it.
CREATE TABLE way_in (
  way TEXT PRIMARY KEY CHECK (way IN ('folder', 'smtp', 'imap')), live INTEGER NOT NULL CHECK (live IN (0, 1)),
  address TEXT NOT NULL, login TEXT NOT NULL, security TEXT NOT NULL CHECK (security IN ('', 'tls', 'starttls', 'none')), box TEXT NOT NULL,
  since TEXT NOT NULL, token INTEGER NOT NULL CHECK (token IN (0, 1)), read_only INTEGER NOT NULL CHECK (read_only IN (0, 1)),
  seconds INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
