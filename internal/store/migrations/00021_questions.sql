-- +goose Up
-- What colleagues ask and tell each other about an invoice or an order: a question, which somebody's turn it is to answer
-- and which may hold its invoice back till then, or a note, which is seen.
CREATE TABLE question (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, kind TEXT NOT NULL CHECK (kind IN ('question', 'note')),
  invoice INTEGER REFERENCES invoice, purchase_order INTEGER REFERENCES purchase_order,
  finding TEXT NOT NULL, line INTEGER NOT NULL, -- what of it the question is about; empty and 0: all of it
  person INTEGER REFERENCES person, role TEXT NOT NULL, -- whom it was put to; neither: a note for whoever reads it
  hold INTEGER REFERENCES hold, -- that keeps its invoice back
  remind_on TEXT NOT NULL, text TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL,
  CHECK ((invoice IS NULL) <> (purchase_order IS NULL)), CHECK (person IS NULL OR role = ''),
  CHECK (kind = 'note' OR person IS NOT NULL OR role <> ''), CHECK (hold IS NULL OR invoice IS NOT NULL)
) STRICT;
CREATE INDEX question_invoice ON question (invoice) WHERE invoice IS NOT NULL;
CREATE INDEX question_order ON question (purchase_order) WHERE purchase_order IS NOT NULL;
CREATE INDEX question_hold ON question (hold) WHERE hold IS NOT NULL;
-- What became of it, step by step: passed on, answered, taken back, answered by what was done itself, seen.
CREATE TABLE question_step (
  question INTEGER NOT NULL REFERENCES question, no INTEGER NOT NULL,
  what TEXT NOT NULL CHECK (what IN ('passed', 'answered', 'withdrawn', 'settled', 'seen')),
  person INTEGER REFERENCES person, text TEXT NOT NULL,
  by_person INTEGER REFERENCES person, at TEXT NOT NULL, PRIMARY KEY (question, no), -- no person: Lagoon itself
  CHECK ((what = 'passed') = (person IS NOT NULL))
) STRICT, WITHOUT ROWID;
-- Mails of a supplier that answer what it was asked; they do nothing by themselves.
CREATE TABLE question_reply (
  question INTEGER NOT NULL REFERENCES question, mail INTEGER NOT NULL REFERENCES mail,
  stranger INTEGER NOT NULL CHECK (stranger IN (0, 1)), PRIMARY KEY (question, mail) -- it came from another address
) STRICT, WITHOUT ROWID;
CREATE TABLE question_state (
  question INTEGER PRIMARY KEY REFERENCES question, state TEXT NOT NULL CHECK (state IN ('open', 'answered', 'closed')),
  person INTEGER REFERENCES person, role TEXT NOT NULL -- whose turn it is
) STRICT;
CREATE INDEX question_open ON question_state (question) WHERE state <> 'closed';
