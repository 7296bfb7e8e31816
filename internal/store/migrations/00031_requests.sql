-- +goose Up
-- A revision of money ahead that we pay on our own request: no invoice of the supplier's asks for it.
CREATE TABLE invoice_request (invoice_revision INTEGER PRIMARY KEY REFERENCES invoice_revision) STRICT;
-- Money that was paid ahead and that nothing can use any more.
CREATE INDEX invoice_state_unused ON invoice_state (turn) WHERE summary = 'money ahead never used';
-- What the company decides about letting money go: whether it is paid ahead without an invoice, from which amount two persons
-- approve a run, and up to which amount clean invoices that nobody keyed release themselves (company currency, 0: never).
CREATE TABLE company_release (
  company INTEGER PRIMARY KEY REFERENCES company, requests INTEGER NOT NULL CHECK (requests IN (0, 1)),
  two_from INTEGER NOT NULL CHECK (two_from >= 0), self_up_to INTEGER NOT NULL CHECK (self_up_to >= 0)
) STRICT;
-- The first of two approvals of a run, before the second approves it.
CREATE TABLE run_approval (
  run INTEGER PRIMARY KEY REFERENCES payment_run, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
-- When what we agreed to bill ourselves is written by itself, and each time that it was: what it made, and left out.
CREATE TABLE self_billing_plan (
  self_billing INTEGER PRIMARY KEY REFERENCES self_billing, every TEXT NOT NULL CHECK (every IN ('day', 'week', 'month')),
  since TEXT NOT NULL
) STRICT;
CREATE TABLE self_billing_run (
  id INTEGER PRIMARY KEY, supplier INTEGER NOT NULL REFERENCES supplier, day TEXT NOT NULL, made INTEGER NOT NULL,
  left_out INTEGER NOT NULL, at TEXT NOT NULL
) STRICT;
CREATE INDEX self_billing_run_supplier ON self_billing_run (supplier, day);
-- Terms of one order, or of one invoice, in the place of its supplier's; the last counts, and empty ones are the supplier's again.
CREATE TABLE own_terms (
  id INTEGER PRIMARY KEY, purchase_order INTEGER REFERENCES purchase_order, invoice INTEGER REFERENCES invoice,
  terms TEXT NOT NULL, note TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL,
  CHECK ((purchase_order IS NULL) <> (invoice IS NULL))
) STRICT;
CREATE INDEX own_terms_order ON own_terms (purchase_order) WHERE purchase_order IS NOT NULL;
CREATE INDEX own_terms_invoice ON own_terms (invoice) WHERE invoice IS NOT NULL;
-- A run that the bank is to carry out at once.
CREATE TABLE run_urgent (run INTEGER PRIMARY KEY REFERENCES payment_run) STRICT;
