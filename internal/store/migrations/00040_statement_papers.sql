-- +goose Up
-- The papers of a supplier that are its statements, as they came.
CREATE TABLE attachment_statement (
  attachment INTEGER PRIMARY KEY REFERENCES attachment, statement INTEGER NOT NULL REFERENCES supplier_statement
) STRICT;
CREATE INDEX attachment_statement_of ON attachment_statement (statement);
