-- +goose Up
-- Quantities, prices, percentages and rates are counted in millionths, amounts in minor units of the
-- named currency; days are YYYY-MM-DD, instants RFC 3339 in UTC. Tables of booked facts refuse UPDATE and
-- DELETE; what changes stands in a companion …_state table that can be rebuilt from them.

CREATE TABLE company (
  id INTEGER PRIMARY KEY CHECK (id = 1),
  name TEXT NOT NULL, currency TEXT NOT NULL, zone TEXT NOT NULL,
  over_delivery INTEGER NOT NULL CHECK (over_delivery IN (0, 1)), under_delivery INTEGER NOT NULL CHECK (under_delivery IN (0, 1)),
  two_step INTEGER NOT NULL CHECK (two_step IN (0, 1)), match_level TEXT NOT NULL CHECK (match_level IN ('two_way', 'three_way')),
  iban TEXT NOT NULL, bic TEXT NOT NULL, country TEXT NOT NULL, address TEXT NOT NULL, place TEXT NOT NULL, mail TEXT NOT NULL,
  demo INTEGER NOT NULL CHECK (demo IN (0, 1))
) STRICT;

-- One who leaves is ended, never deleted. Sessions begun in an earlier epoch are over; roles and authority that nobody
-- else has confirmed yet stand apart, with who asked for them.
CREATE TABLE person (
  id INTEGER PRIMARY KEY, login TEXT NOT NULL UNIQUE, name TEXT NOT NULL, password TEXT NOT NULL,
  authority INTEGER NOT NULL CHECK (authority >= 0), comma INTEGER NOT NULL CHECK (comma IN (0, 1)),
  active INTEGER NOT NULL CHECK (active IN (0, 1)), about TEXT NOT NULL, one_time INTEGER NOT NULL CHECK (one_time IN (0, 1)), epoch INTEGER NOT NULL,
  asked_roles TEXT NOT NULL, asked_authority INTEGER NOT NULL CHECK (asked_authority >= 0), asked_by INTEGER REFERENCES person
) STRICT;
CREATE TABLE person_role (
  person INTEGER NOT NULL REFERENCES person, role TEXT NOT NULL CHECK (role IN ('buyer','receiver','clerk','approver','treasurer','administrator','reader')),
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (person, role)
) STRICT, WITHOUT ROWID;
-- Who acts in a person's place, from–to.
CREATE TABLE substitute (
  person INTEGER NOT NULL REFERENCES person, no INTEGER NOT NULL, substitute INTEGER NOT NULL REFERENCES person, from_day TEXT NOT NULL, until_day TEXT NOT NULL,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (person, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX substitute_of ON substitute (substitute);

CREATE TABLE series (kind TEXT PRIMARY KEY, next INTEGER NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE period (month TEXT PRIMARY KEY, closed_at TEXT NOT NULL) STRICT, WITHOUT ROWID;
CREATE TABLE exchange_rate (currency TEXT NOT NULL, day TEXT NOT NULL, rate INTEGER NOT NULL CHECK (rate > 0), PRIMARY KEY (currency, day)) STRICT, WITHOUT ROWID;
CREATE INDEX exchange_rate_day ON exchange_rate (day);
-- The kinds of charge that orders plan and invoices may carry, with the code of UNCL 7161 that e-invoices give it.
CREATE TABLE charge_kind (name TEXT PRIMARY KEY, standard TEXT NOT NULL, ended INTEGER NOT NULL CHECK (ended IN (0, 1))) STRICT, WITHOUT ROWID;
CREATE TABLE budget (code TEXT PRIMARY KEY, name TEXT NOT NULL, account TEXT NOT NULL CHECK (account IN ('stock', 'expense'))) STRICT, WITHOUT ROWID;

CREATE TABLE supplier (
  id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE, name TEXT NOT NULL, not_yet INTEGER NOT NULL CHECK (not_yet IN (0, 1)), once INTEGER NOT NULL CHECK (once IN (0, 1)),
  tax_id TEXT NOT NULL, untaxed INTEGER NOT NULL CHECK (untaxed IN (0, 1)), country TEXT NOT NULL, language TEXT NOT NULL,
  currency TEXT NOT NULL, holds TEXT NOT NULL,
  iban TEXT NOT NULL, bic TEXT NOT NULL, account_by INTEGER REFERENCES person, pay_to INTEGER REFERENCES supplier, match_level TEXT CHECK (match_level IN ('two_way', 'three_way')),
  from_receipt INTEGER NOT NULL CHECK (from_receipt IN (0, 1)), net_days INTEGER NOT NULL CHECK (net_days >= 0),
  end_of_month INTEGER NOT NULL CHECK (end_of_month IN (0, 1)), day_of_month INTEGER NOT NULL CHECK (day_of_month BETWEEN 0 AND 31),
  discount_percent INTEGER NOT NULL CHECK (discount_percent >= 0), discount_days INTEGER NOT NULL CHECK (discount_days >= 0),
  budget TEXT REFERENCES budget, least_order INTEGER NOT NULL CHECK (least_order >= 0), free_freight INTEGER NOT NULL CHECK (free_freight >= 0),
  closed_days TEXT NOT NULL, incomplete INTEGER NOT NULL CHECK (incomplete IN (0, 1)), version INTEGER NOT NULL
) STRICT;
CREATE INDEX supplier_tax_id ON supplier (tax_id);
CREATE INDEX supplier_iban ON supplier (iban);
CREATE INDEX supplier_pay_to ON supplier (pay_to) WHERE pay_to IS NOT NULL;
CREATE INDEX supplier_name ON supplier (name COLLATE NOCASE);
-- Masters are changed in place; what is taken out stays as ended. Purposes and stages are lists of words.
CREATE TABLE supplier_address (
  supplier INTEGER NOT NULL REFERENCES supplier, no INTEGER NOT NULL, purposes TEXT NOT NULL, street TEXT NOT NULL, city TEXT NOT NULL, region TEXT NOT NULL,
  postcode TEXT NOT NULL, country TEXT NOT NULL, ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (supplier, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE supplier_account (
  supplier INTEGER NOT NULL REFERENCES supplier, no INTEGER NOT NULL, iban TEXT NOT NULL, bic TEXT NOT NULL, by_person INTEGER REFERENCES person,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (supplier, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX supplier_account_iban ON supplier_account (iban);
CREATE TABLE contact (
  number INTEGER PRIMARY KEY, name TEXT NOT NULL, role TEXT NOT NULL, mail TEXT NOT NULL, phone TEXT NOT NULL, language TEXT NOT NULL
) STRICT;
CREATE TABLE contact_supplier (
  contact INTEGER NOT NULL REFERENCES contact, supplier INTEGER NOT NULL REFERENCES supplier, purposes TEXT NOT NULL, ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (contact, supplier)
) STRICT, WITHOUT ROWID;
CREATE INDEX contact_supplier_supplier ON contact_supplier (supplier);
CREATE TABLE supplier_note (
  supplier INTEGER NOT NULL REFERENCES supplier, no INTEGER NOT NULL, kind TEXT NOT NULL, urgent INTEGER NOT NULL CHECK (urgent IN (0, 1)), text TEXT NOT NULL,
  from_day TEXT NOT NULL, until_day TEXT NOT NULL, stages TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL, ended INTEGER NOT NULL CHECK (ended IN (0, 1)),
  PRIMARY KEY (supplier, no)
) STRICT, WITHOUT ROWID;
-- Decisions about a supplier that need a reason: a hold put on or taken off, its bank account and who confirmed it.
CREATE TABLE supplier_decision (
  id INTEGER PRIMARY KEY, supplier INTEGER NOT NULL REFERENCES supplier, what TEXT NOT NULL CHECK (what IN ('hold', 'account', 'payee', 'confirmed')),
  was TEXT NOT NULL, becomes TEXT NOT NULL, reason TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX supplier_decision_supplier ON supplier_decision (supplier);

CREATE TABLE item (
  id INTEGER PRIMARY KEY, code TEXT NOT NULL UNIQUE, name TEXT NOT NULL, unit TEXT NOT NULL, whole INTEGER NOT NULL CHECK (whole IN (0, 1)),
  match_level TEXT CHECK (match_level IN ('two_way', 'three_way')), base INTEGER NOT NULL CHECK (base > 0), lots INTEGER NOT NULL CHECK (lots IN (0, 1)),
  account TEXT CHECK (account IN ('stock', 'expense')), budget TEXT REFERENCES budget, incomplete INTEGER NOT NULL CHECK (incomplete IN (0, 1)), version INTEGER NOT NULL
) STRICT;
CREATE INDEX item_name ON item (name COLLATE NOCASE);
CREATE TABLE item_supplier (
  item INTEGER NOT NULL REFERENCES item, supplier INTEGER NOT NULL REFERENCES supplier, code TEXT NOT NULL, match_level TEXT CHECK (match_level IN ('two_way', 'three_way')),
  base INTEGER, lots INTEGER CHECK (lots IN (0, 1)), ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (item, supplier)
) STRICT, WITHOUT ROWID;
CREATE INDEX item_supplier_code ON item_supplier (supplier, code);
-- So many of a unit make so many of the item's own; supplier 0 is all of them. Making nothing ends it.
CREATE TABLE item_unit (
  item INTEGER NOT NULL REFERENCES item, supplier INTEGER NOT NULL, unit TEXT NOT NULL, units INTEGER NOT NULL CHECK (units > 0), makes INTEGER NOT NULL CHECK (makes >= 0),
  PRIMARY KEY (item, supplier, unit)
) STRICT, WITHOUT ROWID;
CREATE TABLE agreed_price (
  supplier INTEGER NOT NULL REFERENCES supplier, item INTEGER NOT NULL REFERENCES item, from_day TEXT NOT NULL, least INTEGER NOT NULL CHECK (least >= 0),
  until_day TEXT NOT NULL, price INTEGER NOT NULL CHECK (price >= 0), base INTEGER NOT NULL CHECK (base > 0), ended INTEGER NOT NULL CHECK (ended IN (0, 1)),
  PRIMARY KEY (supplier, item, from_day, least)
) STRICT, WITHOUT ROWID;
-- What is planned to be bought out of a budget.
CREATE TABLE budget_line (
  budget TEXT NOT NULL REFERENCES budget, no INTEGER NOT NULL, supplier INTEGER NOT NULL REFERENCES supplier, item INTEGER REFERENCES item, description TEXT NOT NULL,
  unit TEXT NOT NULL, quantity INTEGER NOT NULL CHECK (quantity > 0), price INTEGER NOT NULL CHECK (price >= 0), wanted_on TEXT NOT NULL,
  ended INTEGER NOT NULL CHECK (ended IN (0, 1)), PRIMARY KEY (budget, no)
) STRICT, WITHOUT ROWID;

-- Orders stand as they are now; every version that a supplier may have seen stays in order_version.
CREATE TABLE purchase_order (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, supplier INTEGER NOT NULL REFERENCES supplier, currency TEXT NOT NULL,
  rate INTEGER NOT NULL CHECK (rate > 0), issued_on TEXT NOT NULL, wanted_on TEXT NOT NULL, requested_by TEXT NOT NULL, place TEXT NOT NULL, elsewhere TEXT NOT NULL,
  their_reference TEXT NOT NULL, contact TEXT NOT NULL, instructions TEXT NOT NULL, note TEXT NOT NULL, revision INTEGER NOT NULL, made_by INTEGER REFERENCES person
) STRICT;
CREATE INDEX purchase_order_supplier ON purchase_order (supplier, number);
CREATE INDEX purchase_order_made_by ON purchase_order (made_by);
CREATE TABLE order_line (
  id INTEGER PRIMARY KEY, purchase_order INTEGER NOT NULL REFERENCES purchase_order, no INTEGER NOT NULL, item INTEGER REFERENCES item,
  supplier_code TEXT NOT NULL, description TEXT NOT NULL, quantity INTEGER NOT NULL CHECK (quantity > 0), unit TEXT NOT NULL,
  whole INTEGER NOT NULL CHECK (whole IN (0, 1)), lots INTEGER NOT NULL CHECK (lots IN (0, 1)), price INTEGER NOT NULL CHECK (price >= 0), base INTEGER NOT NULL CHECK (base > 0),
  agreed INTEGER CHECK (agreed >= 0), discount INTEGER NOT NULL, charge INTEGER NOT NULL, net INTEGER NOT NULL, tax_category TEXT NOT NULL, tax_rate INTEGER NOT NULL CHECK (tax_rate >= 0),
  budget TEXT NOT NULL REFERENCES budget, budget_line INTEGER, wanted_on TEXT NOT NULL, note TEXT NOT NULL, match_level TEXT CHECK (match_level IN ('two_way', 'three_way')),
  UNIQUE (purchase_order, no)
) STRICT;
CREATE INDEX order_line_item ON order_line (item, id) WHERE item IS NOT NULL;
CREATE INDEX order_line_budget ON order_line (budget, budget_line) WHERE budget_line IS NOT NULL;
-- Charges that the order plans; a charge of nothing is taken out.
CREATE TABLE order_charge (
  purchase_order INTEGER NOT NULL REFERENCES purchase_order, no INTEGER NOT NULL, kind TEXT NOT NULL, description TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount >= 0),
  tax_category TEXT NOT NULL, tax_rate INTEGER NOT NULL CHECK (tax_rate >= 0), PRIMARY KEY (purchase_order, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE order_version (
  purchase_order INTEGER NOT NULL REFERENCES purchase_order, revision INTEGER NOT NULL, body BLOB NOT NULL, reason TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL,
  PRIMARY KEY (purchase_order, revision)
) STRICT;
-- Under which name a table told an order, with a hash of what it said: the same table again makes nothing twice.
CREATE TABLE order_import (
  supplier TEXT NOT NULL, name TEXT NOT NULL, says TEXT NOT NULL, purchase_order INTEGER NOT NULL REFERENCES purchase_order (number), PRIMARY KEY (supplier, name)
) STRICT;
-- What a supplier was sent, or told otherwise, and what the supplier answered.
CREATE TABLE order_sending (
  id INTEGER PRIMARY KEY, purchase_order INTEGER NOT NULL REFERENCES purchase_order, revision INTEGER NOT NULL, kind TEXT NOT NULL CHECK (kind IN ('order', 'reminder', 'cancellation', 'return')),
  way TEXT NOT NULL CHECK (way IN ('mail', 'otherwise')), recipient TEXT NOT NULL, subject TEXT NOT NULL, text TEXT NOT NULL, prices INTEGER NOT NULL CHECK (prices IN (0, 1)),
  mail INTEGER REFERENCES paper, by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX order_sending_order ON order_sending (purchase_order);
CREATE TABLE sending_state (
  sending INTEGER PRIMARY KEY REFERENCES order_sending, state TEXT NOT NULL CHECK (state IN ('waiting', 'sent', 'kept', 'failed')), tries INTEGER NOT NULL, trouble TEXT NOT NULL
) STRICT;
CREATE INDEX sending_waiting ON sending_state (sending) WHERE state = 'waiting';
CREATE TABLE order_answer (
  id INTEGER PRIMARY KEY, purchase_order INTEGER NOT NULL REFERENCES purchase_order, revision INTEGER NOT NULL, reference TEXT NOT NULL, promised_on TEXT NOT NULL,
  by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX order_answer_order ON order_answer (purchase_order);
-- An order that is being written; what was typed is kept as it is.
CREATE TABLE order_draft (
  number INTEGER PRIMARY KEY, version INTEGER NOT NULL CHECK (version > 0), supplier TEXT NOT NULL, entry TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL,
  state TEXT NOT NULL CHECK (state IN ('open', 'issued', 'discarded')), purchase_order INTEGER
) STRICT;
CREATE INDEX order_draft_open ON order_draft (number) WHERE state = 'open';
-- Advance shipping notices: what a supplier says is on its way.
CREATE TABLE notice (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, purchase_order INTEGER NOT NULL REFERENCES purchase_order, reference TEXT NOT NULL, reference_key TEXT NOT NULL,
  expected_on TEXT NOT NULL, carrier TEXT NOT NULL, paper INTEGER REFERENCES paper, by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX notice_order ON notice (purchase_order);
CREATE TABLE notice_line (
  notice INTEGER NOT NULL REFERENCES notice, no INTEGER NOT NULL, order_line INTEGER NOT NULL REFERENCES order_line, quantity INTEGER NOT NULL CHECK (quantity > 0), lot TEXT NOT NULL,
  PRIMARY KEY (notice, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE notice_state (
  notice INTEGER PRIMARY KEY REFERENCES notice, state TEXT NOT NULL CHECK (state IN ('open', 'arrived', 'withdrawn')), expected_on TEXT NOT NULL, delivery INTEGER REFERENCES delivery
) STRICT;
CREATE INDEX notice_open ON notice_state (expected_on, notice) WHERE state = 'open';
-- A delivery as it was counted at the door, for another person to book.
CREATE TABLE arrival (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, purchase_order INTEGER NOT NULL REFERENCES purchase_order, entry TEXT NOT NULL, counted_by INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX arrival_order ON arrival (purchase_order);
CREATE TABLE arrival_state (
  arrival INTEGER PRIMARY KEY REFERENCES arrival, state TEXT NOT NULL CHECK (state IN ('open', 'booked', 'discarded')), delivery INTEGER REFERENCES delivery
) STRICT;
CREATE INDEX arrival_open ON arrival_state (arrival) WHERE state = 'open';

CREATE TABLE order_state (
  purchase_order INTEGER PRIMARY KEY REFERENCES purchase_order, state TEXT NOT NULL CHECK (state IN ('draft', 'issued', 'closed', 'cancelled')),
  version INTEGER NOT NULL, open_goods INTEGER NOT NULL CHECK (open_goods IN (0, 1)), wanted_on TEXT NOT NULL
) STRICT;
CREATE INDEX order_expected ON order_state (wanted_on, purchase_order) WHERE open_goods = 1;
CREATE TABLE order_line_state (
  order_line INTEGER PRIMARY KEY REFERENCES order_line, received INTEGER NOT NULL CHECK (received >= 0), billed INTEGER NOT NULL CHECK (billed >= 0),
  returned INTEGER NOT NULL CHECK (returned >= 0), closed_goods INTEGER NOT NULL CHECK (closed_goods IN (0, 1)), closed_invoices INTEGER NOT NULL CHECK (closed_invoices IN (0, 1)),
  match_level TEXT CHECK (match_level IN ('two_way', 'three_way')), account TEXT CHECK (account IN ('stock', 'expense')),
  dearer INTEGER NOT NULL CHECK (dearer >= 0), cheaper INTEGER NOT NULL CHECK (cheaper >= 0), CHECK ((match_level IS NULL) = (account IS NULL))
) STRICT;

-- A limit at one level: which of line, item and supplier are set says which (rules §2); scope says the same in one
-- word. With neither percentage nor absolute value nothing is set any more.
CREATE TABLE limit_rule (
  scope TEXT NOT NULL, kind TEXT NOT NULL CHECK (kind IN ('delivery', 'invoiced_quantity', 'unit_price', 'charge', 'tax_rounding', 'stated_total')),
  side TEXT NOT NULL CHECK (side IN ('over', 'under')), order_line INTEGER REFERENCES order_line, item INTEGER REFERENCES item, supplier INTEGER REFERENCES supplier,
  percent INTEGER CHECK (percent >= 0), absolute INTEGER CHECK (absolute >= 0),
  PRIMARY KEY (scope, kind, side), CHECK (order_line IS NULL OR (item IS NULL AND supplier IS NULL))
) STRICT, WITHOUT ROWID;
CREATE INDEX limit_rule_line ON limit_rule (order_line) WHERE order_line IS NOT NULL;
CREATE INDEX limit_rule_item ON limit_rule (item, supplier) WHERE order_line IS NULL;
-- Who made a limit or a match level what it is; open until somebody else confirms it, and clears nothing of their own till then.
CREATE TABLE limit_owner (
  scope TEXT NOT NULL, kind TEXT NOT NULL, side TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, item INTEGER REFERENCES item, supplier INTEGER REFERENCES supplier,
  open INTEGER NOT NULL CHECK (open IN (0, 1)), PRIMARY KEY (scope, kind, side, by_person)
) STRICT, WITHOUT ROWID;
CREATE INDEX limit_owner_item ON limit_owner (item, supplier) WHERE open = 1;

-- A document about goods: a delivery, an acceptance as free of charge, or what undoes or answers one: the reversal of a
-- booking, the return of goods.
CREATE TABLE delivery (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, kind TEXT NOT NULL CHECK (kind IN ('delivery', 'reversal', 'return', 'free')), purchase_order INTEGER NOT NULL REFERENCES purchase_order,
  against INTEGER REFERENCES delivery, outcome TEXT CHECK (outcome IN ('replacement', 'credit')), note TEXT NOT NULL, note_key TEXT NOT NULL, arrived_on TEXT NOT NULL, posted_on TEXT NOT NULL, place TEXT NOT NULL,
  condition TEXT NOT NULL, reason TEXT NOT NULL, second_part INTEGER NOT NULL CHECK (second_part IN (0, 1)),
  no_note INTEGER NOT NULL CHECK (no_note IN (0, 1)), stated INTEGER, stated_why TEXT NOT NULL, booked_by INTEGER REFERENCES person, booked_at TEXT NOT NULL,
  CHECK ((kind IN ('delivery', 'free')) = (against IS NULL)), CHECK ((kind = 'return') = (outcome IS NOT NULL))
) STRICT;
CREATE INDEX delivery_order ON delivery (purchase_order);
CREATE INDEX delivery_note ON delivery (note_key);
CREATE INDEX delivery_against ON delivery (against) WHERE against IS NOT NULL;
CREATE TABLE receipt_line (
  id INTEGER PRIMARY KEY, delivery INTEGER NOT NULL REFERENCES delivery, order_line INTEGER NOT NULL REFERENCES order_line,
  quantity INTEGER NOT NULL CHECK (quantity >= 0), refused INTEGER NOT NULL CHECK (refused >= 0), refused_reason TEXT NOT NULL, remark TEXT NOT NULL, counted INTEGER NOT NULL, counted_unit TEXT NOT NULL,
  value INTEGER NOT NULL, value_base INTEGER NOT NULL, rate INTEGER NOT NULL CHECK (rate > 0), order_revision INTEGER NOT NULL
) STRICT;
CREATE INDEX receipt_line_order_line ON receipt_line (order_line, id);
CREATE INDEX receipt_line_delivery ON receipt_line (delivery);
CREATE TABLE receipt_lot (
  receipt_line INTEGER NOT NULL REFERENCES receipt_line, no INTEGER NOT NULL, lot TEXT NOT NULL, quantity INTEGER NOT NULL CHECK (quantity > 0), best_before TEXT NOT NULL,
  PRIMARY KEY (receipt_line, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE return_lot (
  delivery INTEGER NOT NULL REFERENCES delivery, receipt_line INTEGER NOT NULL REFERENCES receipt_line, no INTEGER NOT NULL, lot TEXT NOT NULL, quantity INTEGER NOT NULL CHECK (quantity > 0),
  PRIMARY KEY (delivery, receipt_line, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX return_lot_receipt_line ON return_lot (receipt_line);
CREATE TABLE delivery_photo (delivery INTEGER NOT NULL REFERENCES delivery, no INTEGER NOT NULL, paper INTEGER NOT NULL REFERENCES paper, PRIMARY KEY (delivery, no)) STRICT, WITHOUT ROWID;
CREATE TABLE line_close (
  id INTEGER PRIMARY KEY, order_line INTEGER NOT NULL REFERENCES order_line, delivery INTEGER REFERENCES delivery,
  goods INTEGER NOT NULL CHECK (goods IN (-1, 0, 1)), invoices INTEGER NOT NULL CHECK (invoices IN (-1, 0, 1)), reason TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX line_close_line ON line_close (order_line);
CREATE INDEX line_close_delivery ON line_close (delivery);

-- Papers as they came, by content, in parts of 256 kB.
CREATE TABLE paper (
  id INTEGER PRIMARY KEY, sha256 TEXT NOT NULL UNIQUE, name TEXT NOT NULL, media_type TEXT NOT NULL, size INTEGER NOT NULL, kept_at TEXT NOT NULL
) STRICT;
CREATE TABLE paper_part (paper INTEGER NOT NULL REFERENCES paper, part INTEGER NOT NULL, bytes BLOB NOT NULL, PRIMARY KEY (paper, part)) STRICT;

CREATE TABLE invoice (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, source TEXT NOT NULL CHECK (source IN ('ubl', 'keyed')),
  paper INTEGER REFERENCES paper, captured_on TEXT NOT NULL, captured_at TEXT NOT NULL, captured_by INTEGER REFERENCES person
) STRICT;
-- What an invoice says: a correction makes a new revision, the earlier ones stay.
CREATE TABLE invoice_revision (
  id INTEGER PRIMARY KEY, invoice INTEGER NOT NULL REFERENCES invoice, revision INTEGER NOT NULL, kind TEXT NOT NULL CHECK (kind IN ('invoice', 'credit_note')),
  supplier INTEGER REFERENCES supplier, supplier_stated TEXT NOT NULL, tax_id_stated TEXT NOT NULL, supplier_number TEXT NOT NULL,
  invoice_date TEXT NOT NULL, posting_day TEXT NOT NULL, currency TEXT NOT NULL, rate INTEGER NOT NULL CHECK (rate >= 0),
  order_stated TEXT NOT NULL, purchase_order INTEGER REFERENCES purchase_order, stated_total INTEGER NOT NULL, prepaid INTEGER NOT NULL,
  iban TEXT NOT NULL, due_stated TEXT NOT NULL, code TEXT NOT NULL, rounded INTEGER NOT NULL, payment_reference TEXT NOT NULL, figures TEXT NOT NULL,
  note TEXT NOT NULL, made_by INTEGER REFERENCES person, made_at TEXT NOT NULL, reason TEXT NOT NULL,
  UNIQUE (invoice, revision)
) STRICT;
CREATE TABLE invoice_line (
  id INTEGER PRIMARY KEY, invoice_revision INTEGER NOT NULL REFERENCES invoice_revision, no INTEGER NOT NULL, purchase_order INTEGER REFERENCES purchase_order, order_stated TEXT NOT NULL, order_line INTEGER REFERENCES order_line,
  order_line_ref TEXT NOT NULL, supplier_code TEXT NOT NULL, item_code TEXT NOT NULL, description TEXT NOT NULL, quantity INTEGER NOT NULL, unit TEXT NOT NULL,
  price INTEGER NOT NULL, base INTEGER NOT NULL CHECK (base > 0), discount INTEGER NOT NULL, charge INTEGER NOT NULL,
  tax_category TEXT NOT NULL, tax_rate INTEGER NOT NULL CHECK (tax_rate >= 0), charge_kind TEXT NOT NULL, UNIQUE (invoice_revision, no)
) STRICT;
CREATE INDEX invoice_line_order_line ON invoice_line (order_line);
-- Which orders a revision is about, and with what: the net of its goods, and its share of each kind of charge.
CREATE TABLE invoice_order (
  purchase_order INTEGER NOT NULL REFERENCES purchase_order, kind TEXT NOT NULL, invoice INTEGER NOT NULL REFERENCES invoice, invoice_revision INTEGER NOT NULL REFERENCES invoice_revision,
  amount INTEGER NOT NULL, PRIMARY KEY (purchase_order, kind, invoice, invoice_revision)
) STRICT, WITHOUT ROWID;
CREATE TABLE invoice_charge (
  invoice_revision INTEGER NOT NULL REFERENCES invoice_revision, no INTEGER NOT NULL, allowance INTEGER NOT NULL CHECK (allowance IN (0, 1)), kind TEXT NOT NULL,
  reason TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount >= 0), tax_category TEXT NOT NULL, tax_rate INTEGER NOT NULL CHECK (tax_rate >= 0), PRIMARY KEY (invoice_revision, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE invoice_tax (
  invoice_revision INTEGER NOT NULL REFERENCES invoice_revision, no INTEGER NOT NULL, category TEXT NOT NULL, rate INTEGER NOT NULL CHECK (rate >= 0), amount INTEGER NOT NULL,
  PRIMARY KEY (invoice_revision, no)
) STRICT, WITHOUT ROWID;
CREATE TABLE invoice_state (
  invoice INTEGER PRIMARY KEY REFERENCES invoice, state TEXT NOT NULL CHECK (state IN ('captured','waiting','held','verified','released','in_payment','paid','void','refused')),
  since TEXT NOT NULL, version INTEGER NOT NULL, revision INTEGER NOT NULL REFERENCES invoice_revision, match_run INTEGER REFERENCES match_run,
  supplier INTEGER REFERENCES supplier, number_key TEXT NOT NULL, purchase_order INTEGER REFERENCES purchase_order, currency TEXT NOT NULL, total INTEGER NOT NULL, total_base INTEGER NOT NULL DEFAULT 0,
  invoice_date TEXT NOT NULL, due_on TEXT NOT NULL, discount_until TEXT NOT NULL, discount INTEGER NOT NULL,
  open INTEGER NOT NULL DEFAULT 0, blocked INTEGER NOT NULL DEFAULT 0 CHECK (blocked IN (0, 1)), turn TEXT NOT NULL,
  summary TEXT NOT NULL, checked_at TEXT NOT NULL
) STRICT;
CREATE INDEX invoice_state_state ON invoice_state (state, due_on, invoice);
CREATE INDEX invoice_state_since ON invoice_state (since);
CREATE INDEX invoice_state_number ON invoice_state (number_key, supplier);
CREATE INDEX invoice_state_same ON invoice_state (supplier, total, invoice_date);
CREATE INDEX invoice_state_order ON invoice_state (supplier) WHERE purchase_order IS NULL;
-- Decisions that end an invoice or move it on: released, refused, void.
CREATE TABLE invoice_decision (
  id INTEGER PRIMARY KEY, invoice INTEGER NOT NULL REFERENCES invoice, decision TEXT NOT NULL CHECK (decision IN ('released', 'taken_back', 'refused', 'void')),
  reason TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX invoice_decision_invoice ON invoice_decision (invoice);

CREATE TABLE match_run (
  id INTEGER PRIMARY KEY, invoice INTEGER NOT NULL REFERENCES invoice, revision INTEGER NOT NULL REFERENCES invoice_revision, at TEXT NOT NULL,
  cause TEXT NOT NULL, verdict TEXT NOT NULL CHECK (verdict IN ('agrees', 'within', 'outside', 'waiting')), findings TEXT NOT NULL
) STRICT;
CREATE INDEX match_run_invoice ON match_run (invoice);
CREATE TABLE acceptance (
  id INTEGER PRIMARY KEY, invoice INTEGER NOT NULL REFERENCES invoice, revision INTEGER NOT NULL REFERENCES invoice_revision, kind TEXT NOT NULL, line INTEGER NOT NULL,
  side TEXT NOT NULL, other INTEGER NOT NULL, order_number INTEGER NOT NULL, charge TEXT NOT NULL,
  difference INTEGER NOT NULL, difference_base INTEGER NOT NULL, excess INTEGER NOT NULL, note TEXT NOT NULL, by_person INTEGER NOT NULL REFERENCES person, at TEXT NOT NULL
) STRICT;
-- An acceptance that lapsed answers nothing any more, whatever comes later.
CREATE TABLE acceptance_lapse (acceptance INTEGER PRIMARY KEY REFERENCES acceptance, at TEXT NOT NULL) STRICT;
CREATE INDEX acceptance_revision ON acceptance (revision);
CREATE INDEX invoice_paper ON invoice (paper) WHERE paper IS NOT NULL;
-- What a verified line, a free acceptance, a reversal or a return takes from a receipt line. Billed without a receipt line
-- means beyond receipts (three-way) or matched to the order alone (two-way); awaited is billed, gone back and to be
-- replaced; variance is billed and taken to price variance. Counter-rows carry the opposite sign.
CREATE TABLE allocation (
  id INTEGER PRIMARY KEY, order_line INTEGER NOT NULL REFERENCES order_line, receipt_line INTEGER REFERENCES receipt_line, invoice_line INTEGER REFERENCES invoice_line,
  delivery INTEGER REFERENCES delivery, kind TEXT NOT NULL CHECK (kind IN ('billed', 'awaited', 'variance', 'free', 'reversed', 'returned', 'credited')), quantity INTEGER NOT NULL, value INTEGER NOT NULL, value_base INTEGER NOT NULL,
  order_revision INTEGER NOT NULL,
  CHECK ((kind IN ('billed', 'awaited', 'variance')) = (invoice_line IS NOT NULL))
) STRICT;
CREATE INDEX allocation_order_line ON allocation (order_line);
CREATE INDEX allocation_receipt_line ON allocation (receipt_line);
CREATE INDEX allocation_delivery ON allocation (delivery) WHERE delivery IS NOT NULL;
CREATE INDEX allocation_invoice_line ON allocation (invoice_line);

CREATE TABLE hold (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, invoice INTEGER NOT NULL REFERENCES invoice, reason TEXT NOT NULL, note TEXT NOT NULL,
  by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX hold_invoice ON hold (invoice);
CREATE TABLE hold_end (hold INTEGER PRIMARY KEY REFERENCES hold, note TEXT NOT NULL, by_person INTEGER REFERENCES person, at TEXT NOT NULL) STRICT;

CREATE TABLE hold_state (hold INTEGER PRIMARY KEY REFERENCES hold, open INTEGER NOT NULL CHECK (open IN (0, 1))) STRICT;
CREATE INDEX hold_open ON hold_state (hold) WHERE open = 1;

CREATE TABLE wake (
  invoice INTEGER PRIMARY KEY REFERENCES invoice, cause TEXT NOT NULL, tries INTEGER NOT NULL DEFAULT 0, not_before TEXT NOT NULL, trouble TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE TABLE entry (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, posted_on TEXT NOT NULL, currency TEXT NOT NULL, what TEXT NOT NULL,
  document TEXT NOT NULL CHECK (document IN ('delivery', 'invoice', 'order', 'payment')), document_number INTEGER NOT NULL, purchase_order INTEGER, by_person INTEGER REFERENCES person, at TEXT NOT NULL
) STRICT;
CREATE INDEX entry_document ON entry (document, document_number);
CREATE TABLE entry_line (
  entry INTEGER NOT NULL REFERENCES entry, no INTEGER NOT NULL, role TEXT NOT NULL, detail TEXT NOT NULL, bill INTEGER REFERENCES invoice, amount INTEGER NOT NULL, base INTEGER NOT NULL, PRIMARY KEY (entry, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX entry_line_bill ON entry_line (bill) WHERE bill IS NOT NULL;
CREATE INDEX entry_line_role ON entry_line (role, detail);

CREATE TABLE payment_run (
  id INTEGER PRIMARY KEY, number INTEGER NOT NULL UNIQUE, due_by TEXT NOT NULL, pay_on TEXT NOT NULL, iban TEXT NOT NULL, bic TEXT NOT NULL, made_by INTEGER REFERENCES person, made_at TEXT NOT NULL
) STRICT;
CREATE TABLE payment (
  id INTEGER PRIMARY KEY, run INTEGER NOT NULL REFERENCES payment_run, end_to_end TEXT NOT NULL UNIQUE, supplier INTEGER NOT NULL REFERENCES supplier,
  currency TEXT NOT NULL, amount INTEGER NOT NULL CHECK (amount > 0), payee TEXT NOT NULL, iban TEXT NOT NULL, bic TEXT NOT NULL
) STRICT;
CREATE INDEX payment_of_run ON payment (run);
CREATE INDEX payment_to ON payment (supplier, iban);
CREATE TABLE payment_item (
  id INTEGER PRIMARY KEY, payment INTEGER NOT NULL REFERENCES payment, invoice INTEGER NOT NULL REFERENCES invoice, amount INTEGER NOT NULL CHECK (amount > 0), discount INTEGER NOT NULL CHECK (discount >= 0)
) STRICT;
CREATE INDEX payment_item_payment ON payment_item (payment);
CREATE INDEX payment_item_invoice ON payment_item (invoice);
CREATE TABLE run_state (
  run INTEGER PRIMARY KEY REFERENCES payment_run, state TEXT NOT NULL CHECK (state IN ('proposed', 'approved', 'sent', 'answered', 'discarded', 'taken_back', 'lost')), version INTEGER NOT NULL,
  approved_by INTEGER REFERENCES person, approved_at TEXT NOT NULL DEFAULT '', message TEXT NOT NULL DEFAULT '', paper INTEGER REFERENCES paper
) STRICT;
CREATE INDEX run_state_state ON run_state (state);
CREATE INDEX run_state_message ON run_state (message);
CREATE TABLE payment_state (payment INTEGER PRIMARY KEY REFERENCES payment, state TEXT NOT NULL CHECK (state IN ('proposed', 'approved', 'in_transit', 'settled', 'rejected', 'discarded')), reason TEXT NOT NULL DEFAULT '') STRICT;
CREATE INDEX payment_rejected ON payment_state (payment) WHERE state = 'rejected';
CREATE TABLE bank_answer (id INTEGER PRIMARY KEY, message TEXT NOT NULL UNIQUE, run INTEGER NOT NULL REFERENCES payment_run, paper INTEGER NOT NULL REFERENCES paper, at TEXT NOT NULL) STRICT;
CREATE INDEX bank_answer_run ON bank_answer (run);

CREATE TABLE command_key (actor INTEGER NOT NULL, key TEXT NOT NULL, body TEXT NOT NULL, answer BLOB NOT NULL, at TEXT NOT NULL, PRIMARY KEY (actor, key)) STRICT, WITHOUT ROWID;
CREATE TABLE audit (
  seq INTEGER PRIMARY KEY, at TEXT NOT NULL, person INTEGER NOT NULL, login TEXT NOT NULL, actor TEXT NOT NULL, role TEXT NOT NULL, address TEXT NOT NULL, command TEXT NOT NULL, cause TEXT NOT NULL,
  subject TEXT NOT NULL, number TEXT NOT NULL, before BLOB NOT NULL, after BLOB NOT NULL, sealed TEXT NOT NULL, seal TEXT NOT NULL, previous TEXT NOT NULL, hash TEXT NOT NULL,
  key TEXT NOT NULL, mac TEXT NOT NULL
) STRICT;
CREATE INDEX audit_subject ON audit (subject, number, seq);
CREATE INDEX audit_person ON audit (login, seq);
CREATE INDEX audit_at ON audit (at);

-- Search by number and name.
CREATE VIRTUAL TABLE finder USING fts5 (text, kind UNINDEXED, number UNINDEXED, label UNINDEXED, prefix = '2 3 4', tokenize = "unicode61 remove_diacritics 2");
CREATE VIRTUAL TABLE finder_masters USING fts5 (text, kind UNINDEXED, number UNINDEXED, label UNINDEXED, prefix = '2 3 4', tokenize = "unicode61 remove_diacritics 2");

-- +goose StatementBegin
CREATE TRIGGER audit_kept BEFORE UPDATE ON audit BEGIN SELECT RAISE(ABORT, 'audit is append-only'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER audit_stays BEFORE DELETE ON audit BEGIN SELECT RAISE(ABORT, 'audit is append-only'); END;
-- +goose StatementEnd

-- Booked facts are never edited or deleted.
-- +goose StatementBegin
CREATE TRIGGER purchase_order_stays BEFORE DELETE ON purchase_order BEGIN SELECT RAISE(ABORT, 'purchase_order is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER order_line_stays BEFORE DELETE ON order_line BEGIN SELECT RAISE(ABORT, 'order_line is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_kept BEFORE UPDATE ON delivery BEGIN SELECT RAISE(ABORT, 'delivery is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_stays BEFORE DELETE ON delivery BEGIN SELECT RAISE(ABORT, 'delivery is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER receipt_line_kept BEFORE UPDATE ON receipt_line BEGIN SELECT RAISE(ABORT, 'receipt_line is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER receipt_line_stays BEFORE DELETE ON receipt_line BEGIN SELECT RAISE(ABORT, 'receipt_line is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER line_close_kept BEFORE UPDATE ON line_close BEGIN SELECT RAISE(ABORT, 'line_close is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER line_close_stays BEFORE DELETE ON line_close BEGIN SELECT RAISE(ABORT, 'line_close is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_kept BEFORE UPDATE ON paper BEGIN SELECT RAISE(ABORT, 'paper is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_stays BEFORE DELETE ON paper BEGIN SELECT RAISE(ABORT, 'paper is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_part_kept BEFORE UPDATE ON paper_part BEGIN SELECT RAISE(ABORT, 'paper_part is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER paper_part_stays BEFORE DELETE ON paper_part BEGIN SELECT RAISE(ABORT, 'paper_part is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_kept BEFORE UPDATE ON invoice BEGIN SELECT RAISE(ABORT, 'invoice is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_stays BEFORE DELETE ON invoice BEGIN SELECT RAISE(ABORT, 'invoice is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_revision_kept BEFORE UPDATE ON invoice_revision BEGIN SELECT RAISE(ABORT, 'invoice_revision is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_revision_stays BEFORE DELETE ON invoice_revision BEGIN SELECT RAISE(ABORT, 'invoice_revision is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_line_kept BEFORE UPDATE ON invoice_line BEGIN SELECT RAISE(ABORT, 'invoice_line is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_line_stays BEFORE DELETE ON invoice_line BEGIN SELECT RAISE(ABORT, 'invoice_line is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_order_kept BEFORE UPDATE ON invoice_order BEGIN SELECT RAISE(ABORT, 'invoice_order is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_order_stays BEFORE DELETE ON invoice_order BEGIN SELECT RAISE(ABORT, 'invoice_order is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_charge_kept BEFORE UPDATE ON invoice_charge BEGIN SELECT RAISE(ABORT, 'invoice_charge is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_charge_stays BEFORE DELETE ON invoice_charge BEGIN SELECT RAISE(ABORT, 'invoice_charge is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_tax_kept BEFORE UPDATE ON invoice_tax BEGIN SELECT RAISE(ABORT, 'invoice_tax is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_tax_stays BEFORE DELETE ON invoice_tax BEGIN SELECT RAISE(ABORT, 'invoice_tax is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_decision_kept BEFORE UPDATE ON invoice_decision BEGIN SELECT RAISE(ABORT, 'invoice_decision is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER invoice_decision_stays BEFORE DELETE ON invoice_decision BEGIN SELECT RAISE(ABORT, 'invoice_decision is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER match_run_kept BEFORE UPDATE ON match_run BEGIN SELECT RAISE(ABORT, 'match_run is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER match_run_stays BEFORE DELETE ON match_run BEGIN SELECT RAISE(ABORT, 'match_run is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER acceptance_lapse_kept BEFORE UPDATE ON acceptance_lapse BEGIN SELECT RAISE(ABORT, 'acceptance_lapse is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER acceptance_lapse_stays BEFORE DELETE ON acceptance_lapse BEGIN SELECT RAISE(ABORT, 'acceptance_lapse is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER acceptance_kept BEFORE UPDATE ON acceptance BEGIN SELECT RAISE(ABORT, 'acceptance is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER acceptance_stays BEFORE DELETE ON acceptance BEGIN SELECT RAISE(ABORT, 'acceptance is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER allocation_kept BEFORE UPDATE ON allocation BEGIN SELECT RAISE(ABORT, 'allocation is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER allocation_stays BEFORE DELETE ON allocation BEGIN SELECT RAISE(ABORT, 'allocation is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER hold_kept BEFORE UPDATE ON hold BEGIN SELECT RAISE(ABORT, 'hold is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER hold_stays BEFORE DELETE ON hold BEGIN SELECT RAISE(ABORT, 'hold is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER hold_end_kept BEFORE UPDATE ON hold_end BEGIN SELECT RAISE(ABORT, 'hold_end is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER hold_end_stays BEFORE DELETE ON hold_end BEGIN SELECT RAISE(ABORT, 'hold_end is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entry_kept BEFORE UPDATE ON entry BEGIN SELECT RAISE(ABORT, 'entry is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entry_stays BEFORE DELETE ON entry BEGIN SELECT RAISE(ABORT, 'entry is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entry_line_kept BEFORE UPDATE ON entry_line BEGIN SELECT RAISE(ABORT, 'entry_line is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER entry_line_stays BEFORE DELETE ON entry_line BEGIN SELECT RAISE(ABORT, 'entry_line is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER payment_run_kept BEFORE UPDATE ON payment_run BEGIN SELECT RAISE(ABORT, 'payment_run is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER payment_run_stays BEFORE DELETE ON payment_run BEGIN SELECT RAISE(ABORT, 'payment_run is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER payment_kept BEFORE UPDATE ON payment BEGIN SELECT RAISE(ABORT, 'payment is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER payment_stays BEFORE DELETE ON payment BEGIN SELECT RAISE(ABORT, 'payment is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER payment_item_kept BEFORE UPDATE ON payment_item BEGIN SELECT RAISE(ABORT, 'payment_item is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER payment_item_stays BEFORE DELETE ON payment_item BEGIN SELECT RAISE(ABORT, 'payment_item is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bank_answer_kept BEFORE UPDATE ON bank_answer BEGIN SELECT RAISE(ABORT, 'bank_answer is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER bank_answer_stays BEFORE DELETE ON bank_answer BEGIN SELECT RAISE(ABORT, 'bank_answer is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER order_version_kept BEFORE UPDATE ON order_version BEGIN SELECT RAISE(ABORT, 'order_version is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER order_version_stays BEFORE DELETE ON order_version BEGIN SELECT RAISE(ABORT, 'order_version is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER order_import_kept BEFORE UPDATE ON order_import BEGIN SELECT RAISE(ABORT, 'order_import is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER order_import_stays BEFORE DELETE ON order_import BEGIN SELECT RAISE(ABORT, 'order_import is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER order_sending_kept BEFORE UPDATE ON order_sending BEGIN SELECT RAISE(ABORT, 'order_sending is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER order_sending_stays BEFORE DELETE ON order_sending BEGIN SELECT RAISE(ABORT, 'order_sending is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER order_answer_kept BEFORE UPDATE ON order_answer BEGIN SELECT RAISE(ABORT, 'order_answer is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER order_answer_stays BEFORE DELETE ON order_answer BEGIN SELECT RAISE(ABORT, 'order_answer is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER notice_kept BEFORE UPDATE ON notice BEGIN SELECT RAISE(ABORT, 'notice is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER notice_stays BEFORE DELETE ON notice BEGIN SELECT RAISE(ABORT, 'notice is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER notice_line_kept BEFORE UPDATE ON notice_line BEGIN SELECT RAISE(ABORT, 'notice_line is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER notice_line_stays BEFORE DELETE ON notice_line BEGIN SELECT RAISE(ABORT, 'notice_line is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER arrival_kept BEFORE UPDATE ON arrival BEGIN SELECT RAISE(ABORT, 'arrival is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER arrival_stays BEFORE DELETE ON arrival BEGIN SELECT RAISE(ABORT, 'arrival is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER return_lot_kept BEFORE UPDATE ON return_lot BEGIN SELECT RAISE(ABORT, 'return_lot is a booked fact'); END;
CREATE TRIGGER receipt_lot_kept BEFORE UPDATE ON receipt_lot BEGIN SELECT RAISE(ABORT, 'receipt_lot is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER return_lot_stays BEFORE DELETE ON return_lot BEGIN SELECT RAISE(ABORT, 'return_lot is a booked fact'); END;
CREATE TRIGGER receipt_lot_stays BEFORE DELETE ON receipt_lot BEGIN SELECT RAISE(ABORT, 'receipt_lot is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_photo_kept BEFORE UPDATE ON delivery_photo BEGIN SELECT RAISE(ABORT, 'delivery_photo is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER delivery_photo_stays BEFORE DELETE ON delivery_photo BEGIN SELECT RAISE(ABORT, 'delivery_photo is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER supplier_decision_kept BEFORE UPDATE ON supplier_decision BEGIN SELECT RAISE(ABORT, 'supplier_decision is a booked fact'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER supplier_decision_stays BEFORE DELETE ON supplier_decision BEGIN SELECT RAISE(ABORT, 'supplier_decision is a booked fact'); END;
-- +goose StatementEnd
