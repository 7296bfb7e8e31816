-- +goose Up
-- Where the papers of a supplier say something, as a correction taught: behind or below which words; without words it is forgotten.
CREATE TABLE paper_rule (
  supplier INTEGER NOT NULL REFERENCES supplier, field TEXT NOT NULL CHECK (field IN ('number', 'date', 'total')),
  words TEXT NOT NULL, below INTEGER NOT NULL CHECK (below IN (0, 1)), invoice INTEGER NOT NULL REFERENCES invoice,
  PRIMARY KEY (supplier, field)
) STRICT, WITHOUT ROWID;
