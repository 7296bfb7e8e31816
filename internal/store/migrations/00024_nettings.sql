-- +goose Up
-- What a run takes off invoices for credit notes: beside a payment or, where nothing is left to be paid, without one.
CREATE TABLE netting (
  id INTEGER PRIMARY KEY, run INTEGER NOT NULL REFERENCES payment_run, payment INTEGER REFERENCES payment,
  invoice INTEGER NOT NULL REFERENCES invoice, credit_note INTEGER NOT NULL REFERENCES invoice,
  amount INTEGER NOT NULL CHECK (amount > 0)
) STRICT;
CREATE INDEX netting_run ON netting (run);
CREATE INDEX netting_invoice ON netting (invoice);
CREATE INDEX netting_credit ON netting (credit_note);
CREATE TABLE netting_state (
  netting INTEGER PRIMARY KEY REFERENCES netting,
  state TEXT NOT NULL CHECK (state IN ('proposed', 'approved', 'in_transit', 'settled', 'rejected', 'discarded'))
) STRICT;
