-- +goose Up
-- The company, its people, its record, and what every stage uses.
--
-- Quantities, prices, percentages and rates are counted in millionths, amounts in minor units of the named currency;
-- days are YYYY-MM-DD, instants RFC 3339 in UTC. What changes about a fact stands in a companion …_state table that
-- can be rebuilt from the facts. That facts refuse UPDATE and DELETE is made of what store says of its tables.

CREATE TABLE company (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  name TEXT NOT NULL, currency TEXT NOT NULL, zone TEXT NOT NULL,
  over_delivery INTEGER NOT NULL CHECK (over_delivery IN (0, 1)),
  under_delivery INTEGER NOT NULL CHECK (under_delivery IN (0, 1)),
  two_step INTEGER NOT NULL CHECK (two_step IN (0, 1)),
  match_level TEXT NOT NULL CHECK (match_level IN ('two_way', 'three_way')),
  iban TEXT NOT NULL, bic TEXT NOT NULL, country TEXT NOT NULL, address TEXT NOT NULL, place TEXT NOT NULL,
  mail TEXT NOT NULL,
  demo INTEGER NOT NULL CHECK (demo IN (0, 1))
) STRICT;
-- One who leaves is ended, never deleted. Sessions begun in an earlier epoch are over; roles and authority that nobody
-- else has confirmed yet stand apart, with who asked for them.
CREATE TABLE person (
  id INTEGER PRIMARY KEY, login TEXT NOT NULL UNIQUE, name TEXT NOT NULL, password TEXT NOT NULL,
  authority INTEGER NOT NULL CHECK (authority >= 0), comma INTEGER NOT NULL CHECK (comma IN (0, 1)),
  active INTEGER NOT NULL CHECK (active IN (0, 1)), about TEXT NOT NULL,
  one_time INTEGER NOT NULL CHECK (one_time IN (0, 1)), epoch INTEGER NOT NULL,
  asked_roles TEXT NOT NULL, asked_authority INTEGER NOT NULL CHECK (asked_authority >= 0),
  asked_by INTEGER REFERENCES person
) STRICT;
CREATE TABLE person_role (
  person INTEGER NOT NULL REFERENCES person,
  role TEXT NOT NULL CHECK (role IN ('buyer','receiver','clerk','approver','treasurer','administrator','reader')),
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (person, role)
) STRICT, WITHOUT ROWID;
-- Who acts in a person's place, from–to.
CREATE TABLE substitute (
  person INTEGER NOT NULL REFERENCES person, no INTEGER NOT NULL, substitute INTEGER NOT NULL REFERENCES person,
  from_day TEXT NOT NULL, until_day TEXT NOT NULL,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (person, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX substitute_of ON substitute (substitute);
CREATE TABLE series (kind TEXT PRIMARY KEY, next INTEGER NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE period (month TEXT PRIMARY KEY, closed_at TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE exchange_rate (currency TEXT NOT NULL, day TEXT NOT NULL, rate INTEGER NOT NULL CHECK (rate > 0),
  PRIMARY KEY (currency, day)) STRICT, WITHOUT ROWID;
CREATE INDEX exchange_rate_day ON exchange_rate (day);
-- The kinds of charge that orders plan and invoices may carry, with the code of UNCL 7161 that e-invoices give it.
CREATE TABLE charge_kind (name TEXT PRIMARY KEY, standard TEXT NOT NULL,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1))) STRICT, WITHOUT ROWID;
CREATE TABLE budget (code TEXT PRIMARY KEY, name TEXT NOT NULL,
  account TEXT NOT NULL CHECK (account IN ('stock', 'expense'))) STRICT, WITHOUT ROWID;
-- What is planned to be bought out of a budget.
CREATE TABLE budget_line (
  budget TEXT NOT NULL REFERENCES budget, no INTEGER NOT NULL, supplier INTEGER NOT NULL REFERENCES supplier,
  item INTEGER REFERENCES item, description TEXT NOT NULL,
  unit TEXT NOT NULL, quantity INTEGER NOT NULL CHECK (quantity > 0), price INTEGER NOT NULL CHECK (price >= 0),
  wanted_on TEXT NOT NULL,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (budget, no)
) STRICT, WITHOUT ROWID;
-- A limit at one level: which of line, item and supplier are set says which (rules §2); scope says the same in one
-- word. With neither percentage nor absolute value nothing is set any more.
CREATE TABLE limit_rule (
  scope TEXT NOT NULL,
  kind TEXT NOT NULL CHECK (kind IN ('delivery', 'invoiced_quantity', 'unit_price', 'charge', 'tax_rounding',
    'stated_total')),
  side TEXT NOT NULL CHECK (side IN ('over', 'under')), order_line INTEGER REFERENCES order_line,
  item INTEGER REFERENCES item, supplier INTEGER REFERENCES supplier,
  percent INTEGER CHECK (percent >= 0), absolute INTEGER CHECK (absolute >= 0),
  PRIMARY KEY (scope, kind, side), CHECK (order_line IS NULL OR (item IS NULL AND supplier IS NULL))
) STRICT, WITHOUT ROWID;
CREATE INDEX limit_rule_line ON limit_rule (order_line) WHERE order_line IS NOT NULL;
CREATE INDEX limit_rule_item ON limit_rule (item, supplier) WHERE order_line IS NULL;
-- Who made a limit or a match level what it is; open until somebody else confirms it,
-- and clears nothing of their own till then.
CREATE TABLE limit_owner (
  scope TEXT NOT NULL, kind TEXT NOT NULL, side TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person,
  item INTEGER REFERENCES item, supplier INTEGER REFERENCES supplier,
  open INTEGER NOT NULL CHECK (open IN (0, 1)), PRIMARY KEY (scope, kind, side, by_person)
) STRICT, WITHOUT ROWID;
CREATE INDEX limit_owner_item ON limit_owner (item, supplier) WHERE open = 1;
-- Papers as they came, by content, in parts of 256 kB.
CREATE TABLE paper (
  id INTEGER PRIMARY KEY, sha256 TEXT NOT NULL UNIQUE, name TEXT NOT NULL, media_type TEXT NOT NULL,
  size INTEGER NOT NULL, kept_at TEXT NOT NULL
) STRICT;
CREATE TABLE paper_part (paper INTEGER NOT NULL REFERENCES paper, part INTEGER NOT NULL, bytes BLOB NOT NULL,
  PRIMARY KEY (paper, part)) STRICT;
CREATE TABLE command_key (actor INTEGER NOT NULL, key TEXT NOT NULL, body TEXT NOT NULL, answer BLOB NOT NULL,
  at TEXT NOT NULL, PRIMARY KEY (actor, key)) STRICT, WITHOUT ROWID;
CREATE TABLE audit (
  seq INTEGER PRIMARY KEY, at TEXT NOT NULL, person INTEGER NOT NULL, login TEXT NOT NULL, actor TEXT NOT NULL,
  role TEXT NOT NULL, address TEXT NOT NULL, command TEXT NOT NULL, cause TEXT NOT NULL,
  subject TEXT NOT NULL, number TEXT NOT NULL, before BLOB NOT NULL, after BLOB NOT NULL, sealed TEXT NOT NULL,
  seal TEXT NOT NULL, previous TEXT NOT NULL, hash TEXT NOT NULL,
  key TEXT NOT NULL, mac TEXT NOT NULL
) STRICT;
CREATE INDEX audit_subject ON audit (subject, number, seq);
CREATE INDEX audit_person ON audit (login, seq);
CREATE INDEX audit_at ON audit (at);
-- Search by number and name.
CREATE VIRTUAL TABLE finder USING fts5 (text, kind UNINDEXED, number UNINDEXED, label UNINDEXED, prefix = '2 3 4',
  tokenize = "unicode61 remove_diacritics 2");
CREATE VIRTUAL TABLE finder_masters USING fts5 (text, kind UNINDEXED, number UNINDEXED, label UNINDEXED,
  prefix = '2 3 4', tokenize = "unicode61 remove_diacritics 2");
