-- +goose Up
-- Orders above their buyer's authority, and changes that raise one above what was approved, wait for an approver. What is
-- asked for says in its entry what is done once it is approved.
CREATE TABLE order_request (
  id INTEGER PRIMARY KEY, purchase_order INTEGER NOT NULL REFERENCES purchase_order, net INTEGER NOT NULL,
  entry TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX order_request_order ON order_request (purchase_order);
CREATE TABLE order_decision (
  id INTEGER PRIMARY KEY, request INTEGER NOT NULL REFERENCES order_request,
  decision TEXT NOT NULL CHECK (decision IN ('approved', 'refused', 'passed', 'replaced')),
  to_person INTEGER REFERENCES person, note TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX order_decision_request ON order_decision (request);
-- The request that is open, if any.
CREATE TABLE order_request_state (
  purchase_order INTEGER PRIMARY KEY REFERENCES purchase_order, request INTEGER REFERENCES order_request
) STRICT;
CREATE INDEX order_request_open ON order_request_state (purchase_order) WHERE request IS NOT NULL;
