-- +goose Up
-- Lists that are looked up: what each of them is found by, and what people keep of them.
CREATE INDEX invoice_state_supplier ON invoice_state (supplier, invoice);
CREATE INDEX receipt_lot_lot ON receipt_lot (lot);
-- A list as somebody keeps it under a name, for themselves or for all, with what was asked of it (JSON).
CREATE TABLE kept_list (
  number INTEGER PRIMARY KEY, name TEXT NOT NULL, list TEXT NOT NULL, asked TEXT NOT NULL,
  for_all INTEGER NOT NULL CHECK (for_all IN (0, 1)), by_person INTEGER NOT NULL REFERENCES person,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)),
  weekly_to TEXT NOT NULL, weekly_as TEXT NOT NULL, weekly_from TEXT NOT NULL -- mailed every Monday from that one on
) STRICT;
-- Lists as they were mailed; week is the Monday of one that goes out every week.
CREATE TABLE list_mail (
  id INTEGER PRIMARY KEY, list TEXT NOT NULL, asked TEXT NOT NULL, kept INTEGER REFERENCES kept_list, week TEXT NOT NULL,
  recipient TEXT NOT NULL, subject TEXT NOT NULL, text TEXT NOT NULL, mail INTEGER NOT NULL REFERENCES paper,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE UNIQUE INDEX list_mail_week ON list_mail (kept, week) WHERE kept IS NOT NULL;
CREATE TABLE list_mail_state (
  mail INTEGER PRIMARY KEY REFERENCES list_mail,
  state TEXT NOT NULL CHECK (state IN ('waiting', 'sent', 'kept', 'failed')), tries INTEGER NOT NULL, trouble TEXT NOT NULL
) STRICT;
CREATE INDEX list_mail_waiting ON list_mail_state (mail) WHERE state = 'waiting';


-- An entry may be of an accrual; a wider check changes nothing that is kept, and whoever has the table open reads it anew
-- because of the tables that are made after.
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, '(document IN (''delivery'', ''invoice'', ''order'', ''payment''))',
  '(document IN (''delivery'', ''invoice'', ''order'', ''payment'', ''accrual''))') WHERE type = 'table' AND name = 'entry';
PRAGMA writable_schema = RESET;
-- What came by the end of a month and is not invoiced, of lines that goods book nothing on: posted on its last day, and
-- taken back by an entry of the first of the next month. Lines without an order were added by a person.
CREATE TABLE accrual (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, month TEXT NOT NULL, entry INTEGER NOT NULL, reversal INTEGER NOT NULL,
  note TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX accrual_month ON accrual (month);
CREATE TABLE accrual_line (
  accrual INTEGER NOT NULL REFERENCES accrual, no INTEGER NOT NULL, order_line INTEGER REFERENCES order_line,
  account TEXT NOT NULL CHECK (account IN ('stock', 'expense', 'assets')), budget TEXT NOT NULL REFERENCES budget, text TEXT NOT NULL,
  quantity INTEGER NOT NULL CHECK (quantity >= 0), base INTEGER NOT NULL, PRIMARY KEY (accrual, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE accrual_end (
  accrual INTEGER PRIMARY KEY REFERENCES accrual, reason TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
-- What of a month was handed to the general ledger: its entries above one number and up to another, once each, with what they
-- come to. A month is handed over again in part, where something is posted into it later.
CREATE TABLE ledger_export (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, month TEXT NOT NULL, above INTEGER NOT NULL, upto INTEGER NOT NULL,
  entries INTEGER NOT NULL, lines INTEGER NOT NULL, debit INTEGER NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX ledger_export_month ON ledger_export (month, number);
CREATE TABLE ledger_export_end (
  export INTEGER PRIMARY KEY REFERENCES ledger_export, reason TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX entry_posted ON entry (posted_on, number);

-- What a budget has in a calendar year, and the group that it is shown in. Amounts are in company currency, net of tax.
CREATE TABLE budget_plan (
  budget TEXT NOT NULL REFERENCES budget, year TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount >= 0), reason TEXT NOT NULL,
  by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL, PRIMARY KEY (budget, year)
) STRICT, WITHOUT ROWID;
CREATE TABLE budget_group (budget TEXT PRIMARY KEY REFERENCES budget, name TEXT NOT NULL) STRICT, WITHOUT ROWID;
