-- +goose Up
-- Answers to mails that came in, as they went out, and whether they did.
CREATE TABLE mail_answer (
  id INTEGER PRIMARY KEY, mail INTEGER NOT NULL REFERENCES mail, recipient TEXT NOT NULL, subject TEXT NOT NULL,
  text TEXT NOT NULL, paper INTEGER NOT NULL REFERENCES paper, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX mail_answer_mail ON mail_answer (mail);
CREATE TABLE mail_answer_state (
  answer INTEGER PRIMARY KEY REFERENCES mail_answer,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'sent', 'kept', 'failed')), tries INTEGER NOT NULL, trouble TEXT NOT NULL
) STRICT;
CREATE INDEX answer_waiting ON mail_answer_state (answer) WHERE state = 'waiting';
