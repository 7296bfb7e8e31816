-- +goose Up
-- Holds on orders and their lines as well: what each keeps from being done, who may clear it, and what ends it by itself.
-- A hold then names no invoice, so that the column may be empty; the words of the table are changed where they stand, as
-- SQLite says it may be done.
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, 'invoice INTEGER NOT NULL REFERENCES invoice', 'invoice INTEGER REFERENCES invoice')
  WHERE type = 'table' AND name = 'hold';
PRAGMA writable_schema = RESET;
-- What a hold says besides; one without is on an invoice, which is neither released nor paid.
CREATE TABLE hold_on (
  hold INTEGER PRIMARY KEY REFERENCES hold, purchase_order INTEGER REFERENCES purchase_order,
  order_line INTEGER REFERENCES order_line, blocks TEXT NOT NULL, clears TEXT NOT NULL,
  until TEXT NOT NULL CHECK (until IN ('', 'day', 'goods', 'credit')), until_day TEXT NOT NULL,
  CHECK (order_line IS NULL OR purchase_order IS NOT NULL)
) STRICT;
CREATE INDEX hold_on_order ON hold_on (purchase_order) WHERE purchase_order IS NOT NULL;
-- Reasons of the company's own, beside those that every Lagoon has.
CREATE TABLE hold_reason (name TEXT PRIMARY KEY, ended INTEGER NOT NULL CHECK (ended IN (0, 1))) STRICT, WITHOUT ROWID;
