package store

import (
	"cmp"
	"errors"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Company is the one company whose books these are.
type Company struct {
	Name, Zone, IBAN, BIC, Country string
	Address                        string         // as it stands on orders, lines parted by commas
	Place                          string         // where goods are delivered, if an order says nothing else
	Mail                           string         // sender of what is mailed
	TaxID                          string         // its tax number, as invoices to it state it (BT-48); empty where it is not known
	ReducesTax                     bool           // a discount that is taken reduces the input tax that was claimed
	Due                            trade.DueBy    // whose due date counts where an invoice states one
	LateRate                       money.Decimal  // what paying late costs a year, in per cent; zero: it is not said
	LateSource                     string         // where that is laid down
	Requests                       bool           // money ahead is paid on our own request, without an invoice
	TwoFrom                        money.Amount   // from which sum two persons approve a run; zero: one does
	SelfUpTo                       money.Amount   // up to which clean invoices that nobody keyed release themselves; zero: never
	OverBudget                     trade.OverRule // what is done where more is taken than a budget has
	TwoStep                        bool           // deliveries are counted at the door and booked by another person
	Currency                       money.Currency
	Level                          trade.Level
	Policy                         trade.Policy
	Demo                           bool // made by the demo, which may take it away again
}

var (
	getCompany = statement(
		`SELECT name, currency, zone, over_delivery, under_delivery, two_step, match_level, iban, bic, country,
			address, place, mail, demo, coalesce((SELECT tax_id FROM company_tax), ''),
			coalesce((SELECT reduces_tax FROM company_payment), 0), coalesce((SELECT due FROM company_payment), 'ours'),
			coalesce((SELECT percent FROM company_interest), 0), coalesce((SELECT source FROM company_interest), ''),
			coalesce((SELECT requests FROM company_release), 0), coalesce((SELECT two_from FROM company_release), 0),
			coalesce((SELECT self_up_to FROM company_release), 0), coalesce((SELECT over FROM company_budget), 'told') FROM company`,
	)
	putCompanyBudget = statement(
		`INSERT INTO company_budget (company, over) VALUES (?, ?) ON CONFLICT (company) DO UPDATE SET over = excluded.over`,
	)
	putCompanyRelease = statement(
		`INSERT INTO company_release (company, requests, two_from, self_up_to) VALUES (?, ?, ?, ?)
		ON CONFLICT (company) DO UPDATE SET requests = excluded.requests, two_from = excluded.two_from, self_up_to = excluded.self_up_to`,
	)
	putCompanyTax = statement(
		`INSERT INTO company_tax (company, tax_id) VALUES (?, ?) ON CONFLICT (company) DO UPDATE SET tax_id = excluded.tax_id`,
	)
	putCompanyPayment = statement(
		`INSERT INTO company_payment (company, reduces_tax, due) VALUES (?, ?, ?)
		ON CONFLICT (company) DO UPDATE SET reduces_tax = excluded.reduces_tax, due = excluded.due`,
	)
	putCompanyInterest = statement(
		`INSERT INTO company_interest (company, percent, source) VALUES (?, ?, ?)
		ON CONFLICT (company) DO UPDATE SET percent = excluded.percent, source = excluded.source`,
	)
	putCompany = statement(
		`INSERT INTO company (id, name, currency, zone, over_delivery, under_delivery, two_step, match_level, iban,
		bic, country, address, place, mail, demo)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (id) DO UPDATE SET name = excluded.name, over_delivery = excluded.over_delivery,
		under_delivery = excluded.under_delivery,
		two_step = excluded.two_step, match_level = excluded.match_level, iban = excluded.iban, bic = excluded.bic,
		country = excluded.country, address = excluded.address, place = excluded.place, mail = excluded.mail`,
	)
)

// memo is what a transaction has read and may need again. Company, closed months, tax codes
// and head outlast the transactions that read or write them, since nobody else writes.
type memo struct {
	company   *Company
	suppliers map[int64]trade.Supplier
	invoices  map[int64]trade.Invoice // by revision
	numbers   map[int64]int64         // row keys of invoices by their numbers
	closed    []string                // months
	months    bool                    // closed is read
	taxes     trade.TaxCodes
	taxed     bool   // taxes are read
	head      string // hash of the newest audit row
}

// Company reads the company, or ErrNone before it is set up.
func (t *Tx) Company() (Company, error) {
	if t.memo.company != nil {
		return *t.memo.company, nil
	}
	c, err := one(t, getCompany, func(r row) (c Company, err error) {
		err = r.Scan(
			&c.Name,
			&c.Currency,
			&c.Zone,
			&c.Policy.OverDelivery,
			&c.Policy.UnderDelivery,
			&c.TwoStep,
			&c.Level,
			&c.IBAN,
			&c.BIC,
			&c.Country,
			&c.Address,
			&c.Place,
			&c.Mail,
			&c.Demo,
			&c.TaxID,
			&c.ReducesTax,
			&c.Due,
			&c.LateRate,
			&c.LateSource,
			&c.Requests,
			&c.TwoFrom,
			&c.SelfUpTo,
			&c.OverBudget,
		)
		return
	})
	if err == nil {
		t.memo.company = &c
	}
	return c, err
}

// PutCompany writes the company.
func (t *Tx) PutCompany(c Company) error {
	t.memo.company = nil
	if err := t.do(
		putCompany,
		1,
		c.Name,
		c.Currency,
		c.Zone,
		c.Policy.OverDelivery,
		c.Policy.UnderDelivery,
		c.TwoStep,
		c.Level,
		c.IBAN,
		c.BIC,
		c.Country,
		c.Address,
		c.Place,
		c.Mail,
		c.Demo,
	); err != nil {
		return err
	}
	return errors.Join(t.do(putCompanyTax, 1, c.TaxID), t.do(putCompanyPayment, 1, c.ReducesTax, cmp.Or(c.Due, trade.DueOurs)),
		t.do(putCompanyInterest, 1, c.LateRate, c.LateSource),
		t.do(putCompanyRelease, 1, c.Requests, c.TwoFrom, c.SelfUpTo),
		t.do(putCompanyBudget, 1, cmp.Or(c.OverBudget, trade.OverTold)))
}

// Budget is what an order line is charged to.
type Budget struct {
	Code, Name string
	Account    trade.Account
}

// Budgets lists the budgets by code.
func (t *Tx) Budgets() ([]Budget, error) {
	return list(t, allBudgets, func(r row) (b Budget, err error) {
		err = r.Scan(&b.Code, &b.Name, &b.Account)
		return
	})
}

// HasBudget tells whether there is a budget of that code.
func (t *Tx) HasBudget(code string) (bool, error) {
	n, err := t.number(hasBudget, code)
	return n > 0, err
}

var (
	allBudgets = statement(`SELECT code, name, account FROM budget ORDER BY code`)
	hasBudget  = statement(`SELECT count(*) FROM budget WHERE code = ?`)
	putBudget  = statement(
		`INSERT INTO budget (code, name, account) VALUES (?, ?, ?)
			ON CONFLICT (code) DO UPDATE SET name = excluded.name, account = excluded.account`,
	)
	chargeKinds = statement(
		`SELECT name, standard, ended, coalesce(m.tax_code, ''), coalesce(m.in_goods, 0) FROM charge_kind k
		LEFT JOIN charge_kind_more m ON m.charge_kind = k.name ORDER BY name`,
	)
	putChargeMore = statement(
		`INSERT INTO charge_kind_more (charge_kind, tax_code, in_goods) VALUES (?, ?, ?)
		ON CONFLICT DO UPDATE SET tax_code = excluded.tax_code, in_goods = excluded.in_goods`,
	)
	putStanding = statement(
		`INSERT INTO supplier_charge (supplier, charge_kind, percent, amount) VALUES (?, ?, ?, ?)
		ON CONFLICT DO UPDATE SET percent = excluded.percent, amount = excluded.amount`,
	)
	putDiscount = statement(`INSERT INTO supplier_discount (supplier, percent, amount) VALUES (?, ?, ?)
		ON CONFLICT DO UPDATE SET percent = excluded.percent, amount = excluded.amount`)
	standingOf = statement(
		`SELECT charge_kind, percent, amount FROM supplier_charge
		WHERE supplier = ?1 AND percent + amount > 0
		UNION ALL SELECT ?2, percent, amount FROM supplier_discount WHERE supplier = ?1 AND percent + amount > 0 ORDER BY 1`,
	)
	putChargeKind = statement(
		`INSERT INTO charge_kind (name, standard, ended) VALUES (?, ?, ?)
			ON CONFLICT (name) DO UPDATE SET standard = excluded.standard, ended = excluded.ended`,
	)
	addRate = statement(
		`INSERT INTO exchange_rate (currency, day, rate) VALUES (?, ?, ?)
			ON CONFLICT DO UPDATE SET rate = excluded.rate`,
	)
	rateOn = statement(
		`SELECT rate FROM exchange_rate WHERE currency = ? AND day <= ? ORDER BY day DESC LIMIT 1`,
	)
	latestRates = cutAt(200, `SELECT currency, day, rate FROM exchange_rate ORDER BY day DESC, currency DESC`)
)

// ChargeKinds lists the company's kinds of charge by name, those that are ended too.
func (t *Tx) ChargeKinds() (trade.ChargeKinds, error) {
	return list(t, chargeKinds, func(r row) (k trade.ChargeKind, err error) {
		err = r.Scan(&k.Name, &k.Standard, &k.Ended, &k.Tax, &k.InGoods)
		return
	})
}

// PutChargeKind writes a kind of charge.
func (t *Tx) PutChargeKind(k trade.ChargeKind) error {
	return errors.Join(t.do(putChargeKind, k.Name, k.Standard, k.Ended), t.do(putChargeMore, k.Name, k.Tax, k.InGoods))
}

// PutStandingCharge writes what a supplier always charges of a kind; with neither value it does not any more.
func (t *Tx) PutStandingCharge(supplier int64, c trade.StandingCharge) error {
	if c.Kind == trade.StandingDiscount {
		return t.do(putDiscount, supplier, c.Percent, c.Amount)
	}
	return t.do(putStanding, supplier, c.Kind, c.Percent, c.Amount)
}

// StandingCharges are what a supplier always charges.
func (t *Tx) StandingCharges(supplier int64) ([]trade.StandingCharge, error) {
	return list(t, standingOf, func(r row) (c trade.StandingCharge, err error) {
		err = r.Scan(&c.Kind, &c.Percent, &c.Amount)
		return
	}, supplier, trade.StandingDiscount)
}

// PutBudget writes a budget.
func (t *Tx) PutBudget(code, name string, account trade.Account) error {
	return t.do(putBudget, code, name, account)
}

// ExchangeRate is company currency for one unit of a currency from a day on.
type ExchangeRate struct {
	Currency money.Currency
	Day      day.Day
	Rate     money.Decimal
}

// Rates lists exchange rates, the newest first.
func (t *Tx) Rates() ([]ExchangeRate, error) {
	return listCut(t, latestRates, func(r row) (x ExchangeRate, err error) {
		err = r.Scan(&x.Currency, &x.Day, &x.Rate)
		return
	})
}

// AddRate writes the rate of a currency on a day: company currency for one unit.
func (t *Tx) AddRate(currency money.Currency, on day.Day, rate money.Decimal) error {
	return t.do(addRate, currency, on, rate)
}

// Rate is the rate of a day or of the last earlier day that has one (rules §1), or
// ErrNone.
func (t *Tx) Rate(currency money.Currency, on day.Day) (money.Decimal, error) {
	return one(t, rateOn, scanOne[money.Decimal], currency, on)
}
