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
-- A group of suppliers proposes what its suppliers are made with; empty: nothing. Terms are JSON.
CREATE TABLE supplier_group (
  id INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE COLLATE NOCASE, terms TEXT NOT NULL, match_level TEXT NOT NULL,
  budget TEXT REFERENCES budget, payables TEXT NOT NULL, payables_name TEXT NOT NULL, ended INTEGER NOT NULL CHECK (ended IN (0, 1))
) STRICT;
CREATE TABLE supplier_member (supplier INTEGER PRIMARY KEY REFERENCES supplier, supplier_group INTEGER REFERENCES supplier_group) STRICT;
CREATE INDEX supplier_member_group ON supplier_member (supplier_group);
-- The group that an item is shown and summed in; empty: none.
CREATE TABLE item_member (item INTEGER PRIMARY KEY REFERENCES item, name TEXT NOT NULL COLLATE NOCASE) STRICT;
CREATE INDEX item_member_name ON item_member (name);
-- What a supplier says that it is owed on a day, as it was kept; what of it is missing here was asked for by a mail of lists.
CREATE TABLE supplier_statement (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, supplier INTEGER NOT NULL REFERENCES supplier, day TEXT NOT NULL,
  currency TEXT NOT NULL, theirs INTEGER NOT NULL, ours INTEGER NOT NULL, note TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX supplier_statement_supplier ON supplier_statement (supplier);
CREATE TABLE supplier_statement_line (
  statement INTEGER NOT NULL REFERENCES supplier_statement, no INTEGER NOT NULL, number TEXT NOT NULL, day TEXT NOT NULL,
  amount INTEGER NOT NULL, standing TEXT NOT NULL, PRIMARY KEY (statement, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE supplier_statement_asked (
  id INTEGER PRIMARY KEY, statement INTEGER NOT NULL REFERENCES supplier_statement, recipient TEXT NOT NULL, text TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX supplier_statement_asked_statement ON supplier_statement_asked (statement);
-- How much each figure counts that suppliers are judged by; without a row all count the same.
CREATE TABLE performance_weight (figure TEXT PRIMARY KEY, weight INTEGER NOT NULL CHECK (weight >= 0)) STRICT, WITHOUT ROWID;
