-- +goose Up
-- What paying late costs a year, in per cent, and where that is laid down.
CREATE TABLE company_interest (company INTEGER PRIMARY KEY, percent INTEGER NOT NULL CHECK (percent >= 0), source TEXT NOT NULL) STRICT;
