-- +goose Up
-- What is taken of budgets, as sums that are kept (rules §3), in company currency net of tax: what each order line takes, and
-- of each budget what was ordered or, without an order, invoiced in a month (YYYY-MM). Budget is empty while an order does not
-- count, as it is not issued.
CREATE TABLE order_line_taken (
  order_line INTEGER PRIMARY KEY REFERENCES order_line, budget TEXT NOT NULL, month TEXT NOT NULL, ordered INTEGER NOT NULL,
  received INTEGER NOT NULL, invoiced INTEGER NOT NULL, credited INTEGER NOT NULL
) STRICT;
CREATE TABLE budget_taken (
  budget TEXT NOT NULL REFERENCES budget, month TEXT NOT NULL, ordered INTEGER NOT NULL, received INTEGER NOT NULL,
  invoiced INTEGER NOT NULL, credited INTEGER NOT NULL, without_order INTEGER NOT NULL, taken INTEGER NOT NULL,
  PRIMARY KEY (budget, month)
) STRICT, WITHOUT ROWID;
-- Sums that were counted from all documents once, by this version or an earlier one.
CREATE TABLE kept_sum (name TEXT PRIMARY KEY) STRICT, WITHOUT ROWID;
-- How the year's amount of a budget is parted over its months (01 to 12); without rows it is not.
CREATE TABLE budget_plan_month (
  budget TEXT NOT NULL REFERENCES budget, year TEXT NOT NULL, month TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount >= 0),
  PRIMARY KEY (budget, year, month)
) STRICT, WITHOUT ROWID;
-- What was left of a budget in a year and was given to it in the next.
CREATE TABLE budget_carry (
  id INTEGER PRIMARY KEY, budget TEXT NOT NULL REFERENCES budget, year TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount > 0),
  reason TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX budget_carry_year ON budget_carry (year);
-- What is done where more is ordered or approved than a budget has.
CREATE TABLE company_budget (company INTEGER PRIMARY KEY REFERENCES company, over TEXT NOT NULL CHECK (over IN ('told', 'refused'))) STRICT;
-- What was posted to each account in a month (YYYY-MM), as sums that are kept, in company currency. Details that name documents
-- are left out. Noted is when the last of it was.
CREATE TABLE account_month (
  role TEXT NOT NULL, detail TEXT NOT NULL, month TEXT NOT NULL, debit INTEGER NOT NULL, credit INTEGER NOT NULL, lines INTEGER NOT NULL,
  noted TEXT NOT NULL, PRIMARY KEY (role, detail, month)
) STRICT, WITHOUT ROWID;
-- What accounts hold of documents, where it is not zero.
CREATE TABLE account_open (role TEXT NOT NULL, detail TEXT NOT NULL, base INTEGER NOT NULL, PRIMARY KEY (role, detail)) STRICT, WITHOUT ROWID;
