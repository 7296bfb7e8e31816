-- +goose Up
-- Mails as they came in: taken once, by what they say and carry. The whole mail is kept as a paper.
CREATE TABLE mail (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE,
  way TEXT NOT NULL CHECK (way IN ('imap', 'smtp', 'folder', 'dropped')),
  message_id TEXT NOT NULL, digest TEXT NOT NULL, size INTEGER NOT NULL, paper INTEGER NOT NULL REFERENCES paper,
  sender TEXT NOT NULL, sender_name TEXT NOT NULL, subject TEXT NOT NULL, sent_at TEXT NOT NULL, text TEXT NOT NULL,
  noise INTEGER NOT NULL CHECK (noise IN (0, 1)), left_out INTEGER NOT NULL CHECK (left_out IN (0, 1)),
  taken_at TEXT NOT NULL, UNIQUE (digest, message_id)
) STRICT;
CREATE INDEX mail_message ON mail (message_id, size);
-- What a mail carried: a file, the invoice that it became or belongs to, or why it became none.
CREATE TABLE mail_part (
  mail INTEGER NOT NULL REFERENCES mail, no INTEGER NOT NULL, name TEXT NOT NULL, paper INTEGER REFERENCES paper,
  invoice INTEGER REFERENCES invoice, said TEXT NOT NULL, PRIMARY KEY (mail, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX mail_part_invoice ON mail_part (invoice) WHERE invoice IS NOT NULL;
-- What a person decided: it is filed, as a paper of an order or supplier or of nothing; or an invoice was keyed from it;
-- or a filing is taken back.
CREATE TABLE mail_decision (
  id INTEGER PRIMARY KEY, mail INTEGER NOT NULL REFERENCES mail, what TEXT NOT NULL CHECK (what IN ('filed', 'keyed', 'opened')),
  purchase_order INTEGER REFERENCES purchase_order, supplier INTEGER REFERENCES supplier,
  invoice INTEGER REFERENCES invoice, part INTEGER, note TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX mail_decision_mail ON mail_decision (mail);
CREATE INDEX mail_decision_invoice ON mail_decision (invoice) WHERE invoice IS NOT NULL;
CREATE INDEX mail_decision_order ON mail_decision (purchase_order) WHERE purchase_order IS NOT NULL;
CREATE INDEX mail_decision_supplier ON mail_decision (supplier) WHERE supplier IS NOT NULL;
CREATE TABLE mail_state (
  mail INTEGER PRIMARY KEY REFERENCES mail, state TEXT NOT NULL CHECK (state IN ('done', 'open', 'filed', 'noise'))
) STRICT;
CREATE INDEX mail_open ON mail_state (mail) WHERE state = 'open';
-- Whose address a sender's is, by its domain.
CREATE INDEX contact_domain ON contact (lower(substr(mail, instr(mail, '@') + 1)));
