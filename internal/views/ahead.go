package views

// This file is about money ahead: what is agreed on an order and became of it, what an invoice can use, and the list of all
// that is open (rules §8).

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// MoneyAhead is what is agreed ahead on an order, or was invoiced without an agreement, and what became of it. Amounts are in
// the order's currency, tax included; Left is what stands in the books for it, in the company's currency without tax.
type MoneyAhead struct {
	Agreed    store.Agreed // number zero: none
	Gross     money.Amount // agreed
	Order     int64        // number
	Supplier  string
	Code      string // of the supplier
	Kind      string
	Currency  money.Currency
	Invoices  []AheadInvoice
	Invoiced  money.Amount
	Requested money.Amount // by ourselves, without an invoice
	ToRequest money.Amount // what could be requested now, where the company pays without an invoice
	Paid      money.Amount
	Used      money.Amount // and credited
	Usable    money.Amount // paid, and neither used nor asked for
	Left      money.Amount
	over      bool    // neither goods nor invoices are to come on its order
	WantedOn  day.Day // of the goods
	Since     day.Day // of its first invoice
}

// AheadInvoice is an invoice for money ahead.
type AheadInvoice struct {
	Number         int64
	SupplierNumber string
	Date           day.Day
	State          trade.InvoiceState
	Total          money.Amount
	Payable        bool // verified or released, and something is open of it
	Request        bool // our own: no invoice asks for it
}

// AskedFor is what was asked of it one way or the other: an invoice may ask for what our own request did before.
func (m MoneyAhead) AskedFor() money.Amount { return max(m.Invoiced, m.Requested) }

// Open tells whether something of it is to come or to be used.
func (m MoneyAhead) Open() bool {
	return m.Left != 0 || (m.AskedFor() < m.Gross && !m.ended()) || m.Paid < m.Requested
}

// Stuck tells whether no invoice can use what is left of it any more: its order has ended.
func (m MoneyAhead) Stuck() bool { return m.Left != 0 && m.ended() }

func (m MoneyAhead) ended() bool { return m.over }

// aheadOfOrder is what is agreed ahead on an order, and what its invoices asked without an agreement.
func aheadOfOrder(r act.Reading, order *trade.Order) ([]MoneyAhead, error) {
	agreed, err := r.Agreements(order.ID)
	if err != nil {
		return nil, err
	}
	booked, err := r.AheadOf(order.ID)
	if err != nil || len(agreed)+len(booked) == 0 {
		return nil, err
	}
	totals, err := order.Totals()
	if err != nil {
		return nil, err
	}
	supplier, err := r.Supplier(order.SupplierID)
	if err != nil {
		return nil, err
	}
	fresh := MoneyAhead{Order: order.Number, Supplier: supplier.Name, Code: supplier.Code, Currency: order.Currency, over: order.Over(), WantedOn: order.WantedOn}
	var all []MoneyAhead
	for _, a := range agreed {
		one := fresh
		one.Agreed, one.Kind = a, a.Kind
		if one.Gross, err = a.Gross(totals.Total); err != nil {
			return nil, err
		}
		if r.Ours.Requests && act.OrderSteps.Allow(order.State, act.RequestAhead) {
			one.ToRequest = max(0, one.Gross-a.AskedFor())
		}
		all = append(all, one)
	}
	asked, err := r.InvoicesAhead(order.ID)
	if err != nil {
		return nil, err
	}
	for _, id := range asked {
		inv, s, err := r.Standing(id)
		if err != nil {
			return nil, err
		}
		at := slices.IndexFunc(all, func(m MoneyAhead) bool { return m.Agreed.ID != 0 && m.Agreed.ID == inv.Ahead.Agreement })
		if at < 0 {
			at = len(all)
			one := fresh
			one.Kind = inv.Ahead.Kind
			all = append(all, one)
		}
		m := &all[at]
		m.Invoices = append(m.Invoices, AheadInvoice{
			Number: inv.Number, SupplierNumber: inv.SupplierNumber, Date: inv.Date, State: s.State, Total: inv.StatedTotal,
			Payable: s.Open > 0 && (s.State == trade.Verified || s.State == trade.Released), Request: inv.Requested(),
		})
		m.Since = cmp.Or(m.Since, inv.Date)
		if !s.State.Booked() {
			continue
		}
		p, err := r.Prepayment(id, 0)
		if err != nil {
			return nil, err
		}
		m.Left += p.Stands()
		took, err := r.UsedAhead(id) // over from our own request, so that it is paid once
		if err != nil {
			return nil, err
		}
		m.Paid, m.Used, m.Usable = m.Paid+p.Settled-took, m.Used+p.Taken.Value-took, m.Usable+p.Usable()
		if p.Request {
			m.Requested += p.Booked.Value
		} else {
			m.Invoiced += p.Booked.Value
		}
	}
	return all, nil
}

// AheadList is the list of money ahead that is open, the sums of what is left by kind, and what the ledger says of each.
type AheadList struct {
	Rows    []MoneyAhead
	Kinds   []AheadKind
	Company money.Currency
	Today   day.Day
}

// AheadKind is what is left of a kind: by the list, and in the ledger.
type AheadKind struct {
	Kind         string
	Left, Booked money.Amount
}

// Ahead lists money ahead that is open: what nobody can use any more first, then by the day that goods or money are expected.
func Ahead(ctx context.Context, a *act.App) (AheadList, error) {
	return act.Read(ctx, a, func(r act.Reading) (l AheadList, err error) {
		l.Company, l.Today = r.Ours.Currency, r.Today()
		orders, err := aheadOrders(r)
		if err != nil {
			return l, err
		}
		left := map[string]money.Amount{}
		for _, id := range orders {
			order, err := r.Order(id, store.AllReserved)
			if err != nil {
				return l, err
			}
			its, err := aheadOfOrder(r, order)
			if err != nil {
				return l, err
			}
			for _, m := range its {
				left[m.Kind] += m.Left
				if m.Open() {
					l.Rows = append(l.Rows, m)
				}
			}
		}
		slices.SortStableFunc(l.Rows, func(a, b MoneyAhead) int {
			stuck := func(m MoneyAhead) int {
				if m.ended() {
					return 0
				}
				return 1
			}
			return cmp.Or(cmp.Compare(stuck(a), stuck(b)), cmp.Compare(cmp.Or(a.Agreed.ExpectedOn, a.Since), cmp.Or(b.Agreed.ExpectedOn, b.Since)))
		})
		booked, err := r.BookedAhead()
		for _, b := range booked {
			l.Kinds = append(l.Kinds, AheadKind{b.Name, left[b.Name], b.Amount})
		}
		return l, err
	})
}

// aheadOrders are the orders on which money ahead is agreed or was invoiced, as row keys.
func aheadOrders(r act.Reading) (orders []int64, err error) {
	add := func(order int64) {
		if order != 0 && !slices.Contains(orders, order) {
			orders = append(orders, order)
		}
	}
	for after := int64(0); ; {
		page, err := r.AgreementsAfter(after)
		if err != nil {
			return nil, err
		}
		if len(page) == 0 {
			break
		}
		for _, a := range page {
			after = a.ID
			add(a.Order)
		}
	}
	for after := int64(0); ; {
		page, err := r.AheadAfter(after)
		if err != nil || len(page) == 0 {
			return orders, err
		}
		for _, id := range page {
			after = id
			s, err := r.InvoiceState(id)
			if err != nil {
				return nil, err
			}
			add(s.Order)
		}
	}
}

// AheadChoice is money that was paid ahead and what an invoice does with it, or could: all that can be used, or the share that
// the invoice has of its order.
type AheadChoice struct {
	trade.Prepayment
	Could, Share money.Amount
}

// ahead reads what an invoice does with money ahead, and what became of one that asks for it.
func (s *InvoiceSheet) ahead(r act.Reading) (err error) {
	if s.Settlements, err = r.SettlementsOf(s.Invoice.ID); err != nil {
		return err
	}
	if s.Nettings, err = r.NettingsOf(s.Invoice.ID); err != nil {
		return err
	}
	if s.Plan, err = r.InvoicePlan(s.Invoice.ID); err != nil {
		return err
	}
	if s.DueTaken, err = r.DueTaken(s.Invoice.ID); err != nil {
		return err
	}
	if s.Invoice.SupplierID != 0 {
		if s.Payee, err = r.PayeeOf(s.Invoice.ID); err != nil {
			return err
		}
		if s.Terms, err = termsSeen(r, s.Invoice, s.Invoice.SupplierID); err != nil {
			return err
		}
	}
	s.Nettings = slices.DeleteFunc(s.Nettings, func(n store.Netting) bool {
		return n.State == store.PaymentDiscarded || n.State == store.PaymentRejected
	})
	if s.Invoice.Prepays() {
		for _, order := range s.Orders {
			of, err := aheadOfOrder(r, order)
			if err != nil {
				return err
			}
			for _, m := range of {
				if slices.ContainsFunc(m.Invoices, func(i AheadInvoice) bool { return i.Number == s.Invoice.Number }) {
					s.Asks = &m
				}
			}
		}
		users, err := r.UsersOf(s.Invoice.ID)
		for _, id := range users {
			inv, state, err1 := r.Standing(id)
			ahead, err2 := r.MoneyAhead(inv, state.Revision)
			err = errors.Join(err, err1, err2)
			for _, p := range ahead {
				if p.Invoice == s.Invoice.ID && p.Use != nil {
					s.Users = append(s.Users, AheadUser{inv.Number, inv.SupplierNumber, *p.Use})
				}
			}
		}
		return err
	}
	ahead, err := r.MoneyAhead(s.Invoice, s.State.Revision)
	if err != nil {
		return err
	}
	owed := s.State.Open
	if s.State.State.Unsettled() {
		owed = s.Invoice.StatedTotal - trade.AheadUsed(ahead)
		for _, c := range s.Claims {
			owed -= c.Gross()
		}
	}
	for _, p := range ahead {
		c := AheadChoice{Prepayment: p, Could: max(0, min(p.Usable(), owed))}
		if c.Share, err = s.share(p, c.Could); err != nil {
			return err
		}
		s.Ahead = append(s.Ahead, c)
	}
	return nil
}

// share is what of money ahead falls on the invoice in proportion to what it bills of the order.
func (s *InvoiceSheet) share(p trade.Prepayment, could money.Amount) (money.Amount, error) {
	for _, o := range s.Orders {
		if o.ID != p.Order {
			continue
		}
		totals, err := o.Totals()
		if err != nil || totals.Total <= 0 {
			return could, err
		}
		share, err := p.Booked.Value.Part(int64(min(s.Invoice.StatedTotal, totals.Total)), int64(totals.Total))
		return min(share, could), err
	}
	return could, nil
}

// AheadUser is an invoice that uses money ahead.
type AheadUser struct {
	Number         int64
	SupplierNumber string
	trade.AheadUse
}

// ProposedAhead is what the invoice for an agreement would say.
func ProposedAhead(ctx context.Context, a *act.App, number, agreement int64) (*trade.Order, trade.Invoice, error) {
	var order *trade.Order
	inv, err := act.Read(ctx, a, func(r act.Reading) (inv trade.Invoice, err error) {
		if order, err = r.OrderByNumber(number, store.AllReserved); err != nil {
			return inv, act.Found(err, "There is no order %d.", number)
		}
		agreed, err := r.Agreement(agreement)
		if err != nil || agreed.Order != order.ID {
			return inv, act.Found(cmp.Or(err, error(store.ErrNone)), "Nothing is agreed ahead under %d on order %d.", agreement, number)
		}
		inv = trade.Invoice{
			Kind: trade.PrepaymentInvoice, Source: trade.FromKeys, SupplierID: order.SupplierID, OrderID: order.ID, Currency: order.Currency,
			PostingDay: r.Today(), Ahead: &trade.Ahead{Agreement: agreed.ID, Kind: agreed.Kind},
		}
		inv.Lines, err = agreed.Asked(order)
		return inv, err
	})
	return order, inv, err
}
