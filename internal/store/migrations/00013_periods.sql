-- +goose Up
-- A closed month is opened again when somebody asks, with a reason, and somebody else agrees; and closed again.
CREATE TABLE period_state (
  month TEXT PRIMARY KEY REFERENCES period, open INTEGER NOT NULL CHECK (open IN (0, 1)),
  asked_by INTEGER REFERENCES person, reason TEXT NOT NULL, asked_at TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TABLE period_change (
  id INTEGER PRIMARY KEY, month TEXT NOT NULL REFERENCES period,
  what TEXT NOT NULL CHECK (what IN ('asked', 'opened', 'refused', 'closed')), reason TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
