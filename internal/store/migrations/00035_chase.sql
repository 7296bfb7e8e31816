-- +goose Up
-- After how many days what is awaited is chased, by supplier (0: the company); below zero: never.
CREATE TABLE chase_days (
  supplier INTEGER NOT NULL, what TEXT NOT NULL CHECK (what IN ('acknowledgement', 'goods', 'invoice')), days INTEGER,
  PRIMARY KEY (supplier, what)
) STRICT, WITHOUT ROWID;
-- Kept lists that are mailed on every working day, not on Mondays alone; the week of their mails is the day. A day on which there is
-- nothing on one is noted, and nothing is mailed.
CREATE TABLE kept_list_daily (kept INTEGER PRIMARY KEY REFERENCES kept_list, daily INTEGER NOT NULL CHECK (daily IN (0, 1))) STRICT;
CREATE TABLE kept_list_empty (kept INTEGER PRIMARY KEY REFERENCES kept_list, day TEXT NOT NULL) STRICT;
CREATE INDEX order_line_beyond ON order_line_state (order_line) WHERE billed > received;
