-- +goose Up
-- What lists are narrowed and summed by and no row holds: what an order comes to net of tax, in millionths of its currency
-- whatever that counts in, and what a supplier was paid in a year, in minor units.
CREATE TABLE order_sum (purchase_order INTEGER PRIMARY KEY REFERENCES purchase_order, net INTEGER NOT NULL) STRICT;
CREATE INDEX order_sum_net ON order_sum (net);
CREATE TABLE supplier_paid (
  supplier INTEGER NOT NULL REFERENCES supplier, year TEXT NOT NULL, currency TEXT NOT NULL,
  paid INTEGER NOT NULL, discount INTEGER NOT NULL, PRIMARY KEY (year, supplier, currency)
) STRICT, WITHOUT ROWID;
-- Each word that narrows a list finds its rows where they are few among all. Of what most rows have, such as a currency, an index is for
-- those questions alone that say so.
CREATE INDEX purchase_order_issued ON purchase_order (issued_on, number);
CREATE INDEX purchase_order_wanted ON purchase_order (wanted_on, number);
CREATE INDEX purchase_order_place ON purchase_order (place COLLATE NOCASE);
CREATE INDEX purchase_order_asked ON purchase_order (requested_by COLLATE NOCASE);
CREATE INDEX purchase_order_currency ON purchase_order (currency) WHERE currency <> '';
CREATE INDEX order_state_closed ON order_state (purchase_order) WHERE state = 'closed';
CREATE INDEX order_line_of_budget ON order_line (budget COLLATE NOCASE);
CREATE INDEX order_line_wanted ON order_line (wanted_on);
CREATE INDEX order_line_net ON order_line (net);
CREATE INDEX order_line_work ON order_line (id) WHERE unit = 'M4';
CREATE INDEX delivery_arrived ON delivery (arrived_on, id);
CREATE INDEX delivery_booked_by ON delivery (booked_by);
CREATE INDEX delivery_of_place ON delivery (place COLLATE NOCASE);
CREATE INDEX delivery_noted ON delivery (note COLLATE NOCASE);
CREATE INDEX receipt_line_refused ON receipt_line (id) WHERE refused > 0;
CREATE INDEX receipt_line_value ON receipt_line (value);
CREATE INDEX invoice_taken_in_by ON invoice (captured_by);
CREATE INDEX invoice_revision_credit ON invoice_revision (invoice) WHERE kind = 'credit_note';
CREATE INDEX invoice_revision_later ON invoice_revision (invoice) WHERE revision > 1;
CREATE INDEX invoice_keyed ON invoice (id) WHERE source = 'keyed';
CREATE INDEX invoice_state_day ON invoice_state (invoice_date, invoice);
CREATE INDEX invoice_state_total ON invoice_state (currency, total) WHERE currency <> '';
CREATE INDEX payment_run_day ON payment_run (pay_on);
CREATE INDEX payment_in_transit ON payment_state (payment) WHERE state = 'in_transit';
CREATE INDEX payment_currency ON payment (currency) WHERE currency <> '';
CREATE INDEX payment_item_discounted ON payment_item (id) WHERE discount > 0;
CREATE INDEX payment_item_amount ON payment_item (amount);
CREATE INDEX entry_by ON entry (by_person);
CREATE INDEX entry_of_order ON entry (purchase_order) WHERE purchase_order IS NOT NULL;
CREATE INDEX entry_line_base ON entry_line (abs(base));
CREATE INDEX entry_line_of ON entry_line (detail COLLATE NOCASE);
