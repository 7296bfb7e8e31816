package store

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/core/trial"
)

const supplierColumns = `SELECT id, code, name, not_yet, once, tax_id, untaxed, country, language, currency, holds,
	iban, bic, coalesce(account_by, 0), coalesce(pay_to, 0), coalesce(match_level, ''),
	from_receipt, net_days, end_of_month, day_of_month, discount_percent, discount_days, coalesce(budget, ''),
	least_order, free_freight, closed_days, incomplete, version,
	coalesce((SELECT t.code FROM supplier_tax t WHERE t.supplier = supplier.id), ''),
	coalesce((SELECT t.discounts FROM supplier_steps t WHERE t.supplier = supplier.id), ''),
	coalesce((SELECT t.instalments FROM supplier_steps t WHERE t.supplier = supplier.id), ''),
	coalesce((SELECT k.customer_number FROM supplier_known k WHERE k.supplier = supplier.id), ''),
	coalesce((SELECT k.standing_text FROM supplier_known k WHERE k.supplier = supplier.id), '') FROM supplier `

var (
	supplierByID    = statement(supplierColumns + `WHERE id = ?`)
	supplierByCode  = statement(supplierColumns + `WHERE code = ?`)
	supplierByTaxID = statement(supplierColumns + `WHERE tax_id = ? AND tax_id <> '' LIMIT 2`)
	supplierByName  = statement(supplierColumns + `WHERE name = ? COLLATE NOCASE LIMIT 2`)
	supplierByOther = statement(supplierColumns + `WHERE id IN (SELECT n.supplier FROM supplier_other_name n WHERE n.name = ? COLLATE NOCASE AND n.ended = 0) LIMIT 2`)
	allSuppliers    = cutAt(2000, supplierColumns+`ORDER BY name COLLATE NOCASE`)
	putSupplier     = statement(
		`INSERT INTO supplier (code, name, not_yet, once, tax_id, untaxed, country, language, currency, holds, iban,
		bic, account_by, pay_to, match_level, from_receipt, net_days,
		end_of_month, day_of_month, discount_percent, discount_days, budget, least_order, free_freight, closed_days,
		incomplete, version)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, nullif(?, 0), nullif(?, 0), nullif(?, ''), ?, ?, ?, ?, ?, ?,
		nullif(?, ''), ?, ?, ?, ?, ?)
		ON CONFLICT (code) DO UPDATE SET name = excluded.name, not_yet = excluded.not_yet, once = excluded.once,
		tax_id = excluded.tax_id, untaxed = excluded.untaxed, country = excluded.country,
		language = excluded.language,
		currency = excluded.currency, holds = excluded.holds, iban = excluded.iban, bic = excluded.bic,
		account_by = excluded.account_by, pay_to = excluded.pay_to, match_level = excluded.match_level,
		from_receipt = excluded.from_receipt, net_days = excluded.net_days, end_of_month = excluded.end_of_month,
		day_of_month = excluded.day_of_month, discount_percent = excluded.discount_percent,
		discount_days = excluded.discount_days, budget = excluded.budget, least_order = excluded.least_order,
		free_freight = excluded.free_freight, closed_days = excluded.closed_days,
		incomplete = excluded.incomplete, version = excluded.version`,
	)
	putAddress = statement(
		`INSERT INTO supplier_address (supplier, no, purposes, street, city, region, postcode, country, ended)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (supplier, no) DO UPDATE SET purposes = excluded.purposes, street = excluded.street,
		city = excluded.city, region = excluded.region, postcode = excluded.postcode,
		country = excluded.country, ended = excluded.ended`,
	)
	putAccount = statement(
		`INSERT INTO supplier_account (supplier, no, iban, bic, by_person, ended) VALUES (?, ?, ?, ?, nullif(?, 0), ?)
		ON CONFLICT (supplier, no) DO UPDATE SET bic = excluded.bic, by_person = excluded.by_person,
		ended = excluded.ended`,
	)
	paidAt = statement(
		`SELECT code, name FROM supplier WHERE iban = ?1 UNION ALL SELECT s.code, s.name FROM supplier_account a
			JOIN supplier s ON s.id = a.supplier WHERE a.iban = ?1 LIMIT 20`,
	)
	alsoPaid = statement(
		`SELECT name FROM supplier WHERE iban = ?1 AND id <> ?2 UNION ALL SELECT s.name FROM supplier_account a
			JOIN supplier s ON s.id = a.supplier WHERE a.iban = ?1 AND a.supplier <> ?2 AND a.ended = 0`,
	)
	suppliersAfter = statement(supplierColumns + `WHERE id > ? ORDER BY id LIMIT ?`)
	payeeOf        = statement(`SELECT name FROM supplier WHERE pay_to = ? LIMIT 1`)
	putKnown       = statement(
		`INSERT INTO supplier_known (supplier, customer_number, standing_text) VALUES (?, ?, ?)
		ON CONFLICT (supplier) DO UPDATE SET customer_number = excluded.customer_number, standing_text = excluded.standing_text`,
	)
	putOtherName = statement(
		`INSERT INTO supplier_other_name (supplier, name, ended) VALUES (?, ?, ?) ON CONFLICT (supplier, name) DO UPDATE SET ended = excluded.ended`,
	)
	otherNames = statement(`SELECT name FROM supplier_other_name WHERE supplier = ? AND ended = 0 ORDER BY name`)
	identities = statement(
		`SELECT s.id, s.code, s.name, s.tax_id, s.iban || coalesce((SELECT ' ' || group_concat(a.iban, ' ') FROM supplier_account a
		WHERE a.supplier = s.id AND a.ended = 0), ''), coalesce((SELECT k.customer_number FROM supplier_known k WHERE k.supplier = s.id), ''),
		coalesce((SELECT group_concat(n.name, char(10)) FROM supplier_other_name n WHERE n.supplier = s.id AND n.ended = 0), '')
		FROM supplier s WHERE s.id > ? ORDER BY s.id LIMIT ?`,
	)
	supplierOfOrder = statement(
		`SELECT s.code FROM purchase_order o JOIN supplier s ON s.id = o.supplier WHERE o.number = ?`,
	)
	accountsOf = statement(
		`SELECT no, iban, bic, coalesce(by_person, 0), ended FROM supplier_account WHERE supplier = ? ORDER BY no`,
	)
	addressesOf = statement(
		`SELECT no, purposes, street, city, region, postcode, country, ended FROM supplier_address
			WHERE supplier = ? ORDER BY no`,
	)
	putContact = statement(
		`INSERT INTO contact (number, name, role, mail, phone, language) VALUES (?, ?, ?, ?, ?, ?)
		ON CONFLICT (number) DO UPDATE SET name = excluded.name, role = excluded.role, mail = excluded.mail,
		phone = excluded.phone, language = excluded.language`,
	)
	lastContact   = statement(`SELECT coalesce(max(number), 0) FROM contact`)
	isContact     = statement(`SELECT count(*) FROM contact WHERE number = ?`)
	allContacts   = cutAt(2000, `SELECT number, name, role, mail, phone, language FROM contact ORDER BY number`)
	putContactTie = statement(
		`INSERT INTO contact_supplier (contact, supplier, purposes, ended) VALUES (?, ?, ?, ?)
			ON CONFLICT (contact, supplier) DO UPDATE SET purposes = excluded.purposes, ended = excluded.ended`,
	)
	contactsOf = statement(
		`SELECT c.number, c.name, c.role, c.mail, c.phone, c.language, x.purposes, x.ended
			FROM contact_supplier x JOIN contact c ON c.number = x.contact WHERE x.supplier = ? ORDER BY x.contact`,
	)
	putNote = statement(
		`INSERT INTO supplier_note (supplier, no, kind, urgent, text, from_day, until_day, stages, by_person, at,
		ended) VALUES (?, ?, ?, ?, ?, ?, ?, ?, nullif(?, 0), ?, ?)
		ON CONFLICT (supplier, no) DO UPDATE SET kind = excluded.kind, urgent = excluded.urgent,
		text = excluded.text, from_day = excluded.from_day, until_day = excluded.until_day,
		stages = excluded.stages, by_person = excluded.by_person, at = excluded.at, ended = excluded.ended`,
	)
	putSteps = statement(
		`INSERT INTO supplier_steps (supplier, discounts, instalments) VALUES (?, ?, ?)
		ON CONFLICT (supplier) DO UPDATE SET discounts = excluded.discounts, instalments = excluded.instalments`,
	)
	notesOf = statement(
		`SELECT no, kind, urgent, text, from_day, until_day, stages, coalesce(by_person, 0), at, ended
			FROM supplier_note WHERE supplier = ? ORDER BY no`,
	)
	addSupplierDecided = statement(
		`INSERT INTO supplier_decision (supplier, what, was, becomes, reason, by_person, at)
			VALUES (?, ?, ?, ?, ?, nullif(?, 0), ?)`,
	)
	supplierDecisions = statement(
		`SELECT d.what, d.was, d.becomes, d.reason, coalesce(p.name, 'Lagoon'), d.at
			FROM supplier_decision d LEFT JOIN person p ON p.id = d.by_person WHERE d.supplier = ?
			ORDER BY d.supplier, d.id`,
	)
)

func scanSupplier(r row) (s trade.Supplier, err error) {
	var holds string
	err = r.Scan(
		&s.ID,
		&s.Code,
		&s.Name,
		&s.NotYet,
		&s.Once,
		&s.TaxID,
		&s.Untaxed,
		&s.Country,
		&s.Language,
		&s.Currency,
		&holds,
		&s.IBAN,
		&s.BIC,
		&s.AccountBy,
		&s.PayTo,
		&s.Level,
		&s.Terms.FromReceipt,
		&s.Terms.NetDays,
		&s.Terms.EndOfMonth,
		&s.Terms.DayOfMonth,
		&s.Terms.DiscountPercent,
		&s.Terms.DiscountDays,
		&s.Budget,
		&s.LeastOrder,
		&s.FreeFrom,
		&s.ClosedDays,
		&s.Incomplete,
		&s.Version,
		&s.Tax,
		&s.Terms.Later,
		&s.Terms.Instalments,
		&s.CustomerNumber,
		&s.StandingText,
	)
	s.Holds = trade.HoldsOf(holds)
	return
}

// Supplier finds a supplier by row key.
func (t *Tx) Supplier(id int64) (trade.Supplier, error) {
	if s, ok := t.memo.suppliers[id]; ok {
		return s, nil
	}
	s, err := one(t, supplierByID, scanSupplier, id)
	if err == nil {
		t.remember(s)
	}
	return s, err
}

func (t *Tx) remember(s trade.Supplier) {
	if t.memo.suppliers == nil {
		t.memo.suppliers = map[int64]trade.Supplier{}
	}
	t.memo.suppliers[s.ID] = s
}

// SupplierByCode finds a supplier by code.
func (t *Tx) SupplierByCode(code string) (trade.Supplier, error) {
	return one(t, supplierByCode, scanSupplier, code)
}

// Suppliers lists the suppliers by name.
func (t *Tx) Suppliers() ([]trade.Supplier, error) { return listCut(t, allSuppliers, scanSupplier) }

// Identified are suppliers in the order of their row keys, from one on, with what tells them from others, for whoever finds
// them on a paper.
func (t *Tx) Identified(after int64, most int) ([]Identity, error) {
	return list(t, identities, func(r row) (i Identity, err error) {
		var accounts, others string
		err = r.Scan(&i.ID, &i.Code, &i.Name, &i.TaxID, &accounts, &i.CustomerNumber, &others)
		i.IBANs, i.Others = strings.Fields(accounts), slices.DeleteFunc(strings.Split(others, "\n"), func(n string) bool { return n == "" })
		return
	}, after, most)
}

// Identity is a supplier with its tax number, its accounts, the other names it goes by and the number that we have there.
type Identity struct {
	ID                int64
	Code, Name, TaxID string
	CustomerNumber    string
	IBANs, Others     []string
}

// PutKnown writes how a supplier knows us: our customer number there, and what is always written to it.
func (t *Tx) PutKnown(supplier int64, customerNumber, standingText string) error {
	delete(t.memo.suppliers, supplier)
	return t.do(putKnown, supplier, customerNumber, standingText)
}

// PutOtherName writes a name that a supplier goes by, or that it no longer does.
func (t *Tx) PutOtherName(supplier int64, name string, ended bool) error {
	return t.do(putOtherName, supplier, name, ended)
}

// OtherNames are the names that a supplier goes by beside its own.
func (t *Tx) OtherNames(supplier int64) ([]string, error) {
	return list(t, otherNames, scanOne[string], supplier)
}

// SupplierOfOrder is the code of an order's supplier, by the order's number; ErrNone where there is no such order.
func (t *Tx) SupplierOfOrder(number int64) (string, error) {
	return one(t, supplierOfOrder, scanOne[string], number)
}

// SuppliersAfter lists suppliers in the order of their row keys, from one on.
func (t *Tx) SuppliersAfter(id int64, most int) ([]trade.Supplier, error) {
	return list(t, suppliersAfter, scanSupplier, id, most)
}

// SupplierNamed finds the one supplier with a tax number or, failing that, exactly that name, else that other name. Two that
// fit are as good as none.
func (t *Tx) SupplierNamed(taxID, name string) (trade.Supplier, error) {
	for _, try := range []struct {
		q   *query
		arg string
	}{{supplierByTaxID, taxID}, {supplierByName, name}, {supplierByOther, name}} {
		found, err := list(t, try.q, scanSupplier, try.arg)
		if err == nil && len(found) == 1 {
			t.remember(found[0])
		}
		if err != nil || len(found) == 1 {
			return append(found, trade.Supplier{})[0], err
		}
	}
	return trade.Supplier{}, ErrNone
}

// PutSupplier writes a supplier by its code, which stays, and gives its row key.
func (t *Tx) PutSupplier(s trade.Supplier) (int64, error) {
	delete(t.memo.suppliers, s.ID)
	id, err := t.exec(
		putSupplier,
		s.Code,
		s.Name,
		s.NotYet,
		s.Once,
		s.TaxID,
		s.Untaxed,
		s.Country,
		s.Language,
		s.Currency,
		s.Holds.String(),
		s.IBAN,
		s.BIC,
		s.AccountBy,
		s.PayTo,
		s.Level,
		s.Terms.FromReceipt,
		s.Terms.NetDays,
		s.Terms.EndOfMonth,
		s.Terms.DayOfMonth,
		s.Terms.DiscountPercent,
		s.Terms.DiscountDays,
		s.Budget,
		s.LeastOrder,
		s.FreeFrom,
		s.ClosedDays,
		s.Incomplete,
		s.Version+1,
	)
	if s.ID != 0 {
		id = s.ID
	}
	if err == nil && (s.Terms.Later != "" || s.Terms.Instalments != "" || s.ID != 0) {
		err = t.do(putSteps, id, s.Terms.Later, s.Terms.Instalments)
	}
	if err != nil || (s.Tax == "" && s.ID == 0) {
		return id, err
	}
	return id, t.do(putSupplierTax, id, s.Tax)
}

// Address is one of a supplier's, with what it is for: ordering, invoicing, payment,
// collection. One that ended stays for what referred to it.
type Address struct {
	No                                      int
	Purposes                                []string
	Street, City, Region, Postcode, Country string
	Ended                                   bool
}

// PutAddress writes an address of a supplier.
func (t *Tx) PutAddress(supplier int64, a Address) error {
	return t.do(
		putAddress,
		supplier,
		a.No,
		strings.Join(a.Purposes, " "),
		a.Street,
		a.City,
		a.Region,
		a.Postcode,
		a.Country,
		a.Ended,
	)
}

// Addresses lists a supplier's addresses, ended ones too.
func (t *Tx) Addresses(supplier int64) ([]Address, error) {
	return list(t, addressesOf, func(r row) (a Address, err error) {
		var purposes string
		err = r.Scan(&a.No, &purposes, &a.Street, &a.City, &a.Region, &a.Postcode, &a.Country, &a.Ended)
		a.Purposes = strings.Fields(purposes)
		return
	}, supplier)
}

// PutAccount writes a further account of a supplier; its number stays, and so does the
// account that it was given to.
func (t *Tx) PutAccount(supplier int64, a trade.BankAccount) error {
	return t.do(putAccount, supplier, a.No, a.IBAN, a.BIC, a.By, a.Ended)
}

// Accounts lists a supplier's further accounts, ended ones too.
func (t *Tx) Accounts(supplier int64) ([]trade.BankAccount, error) {
	return list(t, accountsOf, func(r row) (a trade.BankAccount, err error) {
		err = r.Scan(&a.No, &a.IBAN, &a.BIC, &a.By, &a.Ended)
		return
	}, supplier)
}

// Contact is a person at one or several suppliers; Purposes and Ended are those at the
// supplier asked for.
type Contact struct {
	Number                            int64
	Name, Role, Mail, Phone, Language string
	Purposes                          []string
	Ended                             bool
}

// PutContact writes a contact and what it does for a supplier; number zero makes a new
// one. It gives the number.
func (t *Tx) PutContact(c Contact, supplier int64) (int64, error) {
	if c.Number == 0 {
		last, err := t.number(lastContact)
		if err != nil {
			return 0, err
		}
		c.Number = last + 1
	}
	if err := t.do(putContact, c.Number, c.Name, c.Role, c.Mail, c.Phone, c.Language); err != nil {
		return 0, err
	}
	return c.Number, t.do(putContactTie, c.Number, supplier, strings.Join(c.Purposes, " "), c.Ended)
}

// IsContact tells whether a number is that of a contact.
func (t *Tx) IsContact(number int64) (bool, error) {
	n, err := t.number(isContact, number)
	return n > 0, err
}

// AllContacts lists the contacts of all suppliers.
func (t *Tx) AllContacts() ([]Contact, error) {
	return listCut(t, allContacts, func(r row) (c Contact, err error) {
		err = r.Scan(&c.Number, &c.Name, &c.Role, &c.Mail, &c.Phone, &c.Language)
		return
	})
}

// Contacts lists a supplier's contacts, ended ones too.
func (t *Tx) Contacts(supplier int64) ([]Contact, error) {
	return list(t, contactsOf, func(r row) (c Contact, err error) {
		var purposes string
		err = r.Scan(&c.Number, &c.Name, &c.Role, &c.Mail, &c.Phone, &c.Language, &purposes, &c.Ended)
		c.Purposes = strings.Fields(purposes)
		return
	}, supplier)
}

// SupplierNote is something to be known of a supplier where it is used: in orders,
// receiving, invoices or payments. No days: always.
type SupplierNote struct {
	No          int
	Kind        string
	Urgent      bool
	Text        string
	From, Until day.Day
	Stages      []string
	By          int64
	At          string
	Ended       bool
}

// PutSupplierNote writes a note.
func (t *Tx) PutSupplierNote(supplier int64, n SupplierNote) error {
	return t.do(
		putNote,
		supplier,
		n.No,
		n.Kind,
		n.Urgent,
		n.Text,
		n.From,
		n.Until,
		strings.Join(n.Stages, " "),
		n.By,
		n.At,
		n.Ended,
	)
}

// SupplierNotes lists a supplier's notes, ended ones too.
func (t *Tx) SupplierNotes(supplier int64) ([]SupplierNote, error) {
	return list(t, notesOf, func(r row) (n SupplierNote, err error) {
		var stages string
		err = r.Scan(&n.No, &n.Kind, &n.Urgent, &n.Text, &n.From, &n.Until, &stages, &n.By, &n.At, &n.Ended)
		n.Stages = strings.Fields(stages)
		return
	}, supplier)
}

// The decisions about suppliers.
const (
	HoldDecision      = "hold"
	AccountDecision   = "account"
	ConfirmedDecision = "confirmed"
	PayeeDecision     = "payee"
)

// SupplierDecision is a change of a supplier that needs a reason.
type SupplierDecision struct {
	Supplier                   int64
	What, Was, Becomes, Reason string
	By                         int64
	ByName, At                 string
}

// AddSupplierDecision writes one.
func (t *Tx) AddSupplierDecision(d SupplierDecision) error {
	return t.do(addSupplierDecided, d.Supplier, d.What, d.Was, d.Becomes, d.Reason, d.By, d.At)
}

// SupplierDecisions lists them in the order of time.
func (t *Tx) SupplierDecisions(supplier int64) ([]SupplierDecision, error) {
	return list(t, supplierDecisions, func(r row) (d SupplierDecision, err error) {
		err = r.Scan(&d.What, &d.Was, &d.Becomes, &d.Reason, &d.ByName, &d.At)
		return
	}, supplier)
}

// PaidAs is a supplier with the bank account that is paid: its own, or that of the
// supplier who is paid in its place.
func (t *Tx) PaidAs(s trade.Supplier) (trade.Supplier, error) {
	if s.PayTo == 0 {
		return s, nil
	}
	payee, err := t.Supplier(s.PayTo)
	s.IBAN, s.BIC, s.AccountBy, s.Payee = payee.IBAN, payee.BIC, cmp.Or(s.AccountBy, payee.AccountBy), payee.Name
	for _, hold := range payee.Holds.OfPayment() {
		s.Holds = s.Holds.With(hold)
	}
	return s, err
}

// AlsoPaid names the other suppliers that an account belongs to.
func (t *Tx) AlsoPaid(iban string, except int64) ([]string, error) {
	if iban == "" {
		return nil, nil
	}
	names, err := list(t, alsoPaid, scanOne[string], iban, except)
	slices.Sort(names)
	return slices.Compact(names), err
}

// PaidThrough names a supplier in whose place another is paid, or ErrNone.
func (t *Tx) PaidThrough(payee int64) (string, error) {
	return one(t, payeeOf, scanOne[string], payee)
}

// wantedLine is what happened to an order line: what came of it is "delivery:day:quantity" by delivery. A price is outside where
// somebody took the difference, or claimed it.
const wantedLine = `SELECT o.supplier, o.number, l.no, l.description, l.unit, l.wanted_on, l.quantity, l.net, x.billed > 0, x.dearer, x.cheaper,
	coalesce((SELECT sum(a.quantity) FROM allocation a WHERE a.order_line = l.id AND a.kind IN ('returned', 'credited')), 0),
	coalesce((SELECT group_concat(d.number || ':' || d.arrived_on || ':' || r.quantity)
		FROM receipt_line r JOIN delivery d ON d.id = r.delivery WHERE r.order_line = l.id AND r.quantity > 0
		AND NOT EXISTS (SELECT 1 FROM delivery v WHERE v.against = d.id AND v.kind = 'reversal')), ''),
	EXISTS (SELECT 1 FROM invoice_line il CROSS JOIN acceptance a ON a.revision = il.invoice_revision AND a.line = il.no
		WHERE il.order_line = l.id AND a.kind = 'unit_price')
	OR EXISTS (SELECT 1 FROM claim_line c WHERE c.order_line = l.id AND c.what = 'price'), l.id, coalesce(l.item, 0), coalesce(i.whole, 0)
	FROM purchase_order o JOIN order_line l ON l.purchase_order = o.id
	JOIN order_line_state x ON x.order_line = l.id JOIN order_state st ON st.purchase_order = o.id LEFT JOIN item i ON i.id = l.item `

var (
	linesWanted = cutAt(
		2000,
		wantedLine+`WHERE o.supplier = ?1 AND st.state IN `+isIssued+` AND l.wanted_on >= ?2 AND l.wanted_on <= ?3
		ORDER BY o.number DESC`,
	)
	// It reads all orders of a period.
	allWanted = proof(wantedLine + `WHERE st.state IN ` + isIssued + ` AND l.wanted_on >= ?1 AND l.wanted_on <= ?2 ORDER BY o.number DESC LIMIT ?3`)
)

// WantedLine is a line of a supplier's order with what happened to it.
type WantedLine struct {
	trade.Delivered
	Supplier int64
	On       trial.Line
	Whole    bool // whole units only
}

func scanWanted(r row) (l WantedLine, err error) {
	var arrivals string
	err = r.Scan(&l.Supplier, &l.Order, &l.Line, &l.Description, &l.Unit, &l.WantedOn, &l.Ordered, &l.Net, &l.Invoiced, &l.Dearer, &l.Cheaper,
		&l.Returned, &arrivals, &l.Outside, &l.On.OrderLine, &l.On.Item, &l.Whole)
	for text := range strings.SplitSeq(arrivals, ",") {
		parts := strings.Split(text, ":")
		if len(parts) != 3 {
			continue
		}
		number, err1 := strconv.ParseInt(parts[0], 10, 64)
		quantity, err2 := strconv.ParseInt(parts[2], 10, 64)
		err = cmp.Or(err, err1, err2)
		l.Arrivals = append(l.Arrivals, trade.Arrival{Delivery: number, Day: day.Day(parts[1]), Quantity: money.Decimal(quantity)})
	}
	slices.SortStableFunc(l.Arrivals, func(a, b trade.Arrival) int {
		return cmp.Or(cmp.Compare(a.Day, b.Day), cmp.Compare(a.Delivery, b.Delivery))
	})
	return l, err
}

// LinesWanted lists a supplier's order lines that were wanted within a period, newest
// orders first.
func (t *Tx) LinesWanted(supplier int64, from, until day.Day) ([]WantedLine, error) {
	return listCut(t, linesWanted, scanWanted, supplier, from, until)
}

// AllWanted lists the order lines of all suppliers that were wanted within a period, newest orders first and at most so many.
func (t *Tx) AllWanted(from, until day.Day, most int) ([]WantedLine, error) {
	return list(t, allWanted, scanWanted, from, until, most)
}

var (
	weights   = statement(`SELECT figure, weight FROM performance_weight`)
	putWeight = statement(
		`INSERT INTO performance_weight (figure, weight) VALUES (?, ?) ON CONFLICT (figure) DO UPDATE SET weight = excluded.weight`,
	)
)

// Weights are how much each figure counts that suppliers are judged by; where nobody said so, all count the same.
func (t *Tx) Weights() (trade.Weights, error) {
	all := trade.Weights{}
	for _, f := range trade.Figures {
		all[f] = 1
	}
	_, err := list(t, weights, func(r row) (none struct{}, err error) {
		var f trade.Figure
		var weight int64
		err = r.Scan(&f, &weight)
		all[f] = weight
		return none, err
	})
	return all, err
}

// PutWeights writes how much each figure counts.
func (t *Tx) PutWeights(all trade.Weights) error {
	for _, f := range trade.Figures {
		if err := t.do(putWeight, f, all[f]); err != nil {
			return err
		}
	}
	return nil
}

// PaidAt are the suppliers that a bank account belongs to, as they are found.
func (t *Tx) PaidAt(iban string) ([]Found, error) {
	all, err := list(t, paidAt, func(r row) (f Found, err error) {
		f.Kind = "supplier"
		err = r.Scan(&f.Number, &f.Label)
		f.Label += " · " + iban
		return
	}, iban)
	slices.SortFunc(all, func(a, b Found) int { return strings.Compare(a.Number, b.Number) })
	return slices.Compact(all), err
}

// mostMailing is how many contacts of a domain are looked at: one that many suppliers share tells nothing.
const mostMailing = 20

var suppliersMailing = statement(
	`SELECT s.code FROM contact c JOIN contact_supplier cs ON cs.contact = c.number JOIN supplier s ON s.id = cs.supplier
	WHERE lower(substr(c.mail, instr(c.mail, '@') + 1)) = ? AND cs.ended = 0 LIMIT ` + fmt.Sprint(mostMailing),
)

// SuppliersMailing are the codes of the suppliers that have a contact of an address's domain; none where too many share it.
func (t *Tx) SuppliersMailing(address string) ([]string, error) {
	_, domain, ok := strings.Cut(strings.ToLower(address), "@")
	if !ok || domain == "" {
		return nil, nil
	}
	codes, err := list(t, suppliersMailing, scanOne[string], domain)
	if len(codes) == mostMailing {
		return nil, err
	}
	slices.Sort(codes)
	return slices.Compact(codes), err
}

var (
	openOrdersOf = statement(`SELECT count(*) FROM purchase_order o JOIN order_state st ON st.purchase_order = o.id
		WHERE o.supplier = ? AND st.state = 'issued'`)
	openInvoicesOf = statement(`SELECT count(*) FROM invoice_state WHERE supplier = ? AND state NOT IN ('paid', 'void', 'refused')`)
)

// OpenOf counts a supplier's orders that are issued and not closed, and its invoices that have not come to an end.
func (t *Tx) OpenOf(supplier int64) (orders, invoices int64, err error) {
	if orders, err = t.number(openOrdersOf, supplier); err == nil {
		invoices, err = t.number(openInvoicesOf, supplier)
	}
	return orders, invoices, err
}
