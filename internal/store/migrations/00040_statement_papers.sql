-- +goose Up
-- The papers of a supplier that are its statements, as they came.
CREATE TABLE attachment_statement (
  attachment INTEGER PRIMARY KEY REFERENCES attachment, statement INTEGER NOT NULL REFERENCES supplier_statement
) STRICT;
CREATE INDEX attachment_statement_of ON attachment_statement (statement);
-- Lines of which more is here than is invoiced, and what of receipts went back, are few, and looked for among all.
CREATE INDEX order_line_uninvoiced ON order_line_state (order_line) WHERE received > billed AND closed_invoices = 0;
CREATE INDEX allocation_back ON allocation (receipt_line) WHERE kind IN ('reversed', 'returned', 'credited');
