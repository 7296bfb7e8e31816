-- +goose Up
-- Who may invoice in a supplier's place: named by one person, confirmed by another.
CREATE TABLE supplier_invoicer (
  supplier INTEGER NOT NULL REFERENCES supplier, invoicer INTEGER NOT NULL REFERENCES supplier,
  named_by INTEGER NOT NULL REFERENCES person, confirmed_by INTEGER REFERENCES person,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (supplier, invoicer), CHECK (supplier <> invoicer)
) STRICT, WITHOUT ROWID;
CREATE INDEX supplier_invoicer_of ON supplier_invoicer (invoicer) WHERE ended = 0;
