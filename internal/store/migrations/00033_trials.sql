-- +goose Up
-- A limit that was tried on what was matched before, with what came out, and whether it was adopted. Where it is for is as of a
-- limit; also are the nearer places that were tried with it, as JSON. Amounts are in company currency.
CREATE TABLE limit_trial (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE,
  item INTEGER REFERENCES item, supplier INTEGER REFERENCES supplier, charge TEXT NOT NULL, kind TEXT NOT NULL,
  side TEXT NOT NULL CHECK (side IN ('over', 'under')),
  percent INTEGER CHECK (percent >= 0), absolute INTEGER CHECK (absolute >= 0),
  was_percent INTEGER, was_absolute INTEGER, also TEXT NOT NULL, since TEXT NOT NULL, until TEXT NOT NULL,
  invoices INTEGER NOT NULL, verified_before INTEGER NOT NULL, verified INTEGER NOT NULL,
  passed_before INTEGER NOT NULL, passed INTEGER NOT NULL, refused INTEGER NOT NULL, refused_worth INTEGER NOT NULL,
  adopted INTEGER NOT NULL CHECK (adopted IN (0, 1)), reason TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX invoice_captured ON invoice (captured_on);
