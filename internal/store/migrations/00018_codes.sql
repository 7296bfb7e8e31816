-- +goose Up
-- What a supplier's code stands for, as somebody said of a line of its invoice; without an item it is forgotten.
CREATE TABLE supplier_code (
  supplier INTEGER NOT NULL REFERENCES supplier, code TEXT NOT NULL COLLATE NOCASE, item INTEGER REFERENCES item,
  PRIMARY KEY (supplier, code)
) STRICT, WITHOUT ROWID;
-- What was accepted of a supplier last is looked up by its kind.
CREATE INDEX acceptance_kind ON acceptance (kind, side);
