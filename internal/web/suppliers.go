package web

// This file translates suppliers, with their accounts, contacts, notes and prices.

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/views"
	"lagoon/internal/web/contract"
)

// accountFor is a bank account as the reader may see it.
func accountFor(ctx context.Context, iban string) string {
	if actorOf(ctx).SeesAccounts() {
		return iban
	}
	return act.HiddenAccount(iban)
}

// GetSupplier reads a supplier.
func (h *handlers) GetSupplier(
	ctx context.Context,
	r contract.GetSupplierRequestObject,
) (contract.GetSupplierResponseObject, error) {
	s, err := masters.ReadSupplier(ctx, h.app, r.Code)
	if err != nil {
		return nil, err
	}
	t := s.Terms
	contacts, others, notes, prices := each(
		s.Contacts,
		contactOf,
	), each(
		s.Others,
		contactOf,
	), each(
		s.Notes,
		noteOf,
	), each(
		s.Prices,
		priceOf,
	)
	codes := each(s.Codes, func(c store.SupplierCode) contract.SupplierCode {
		return contract.SupplierCode{Code: c.Code, Item: c.ItemCode, Name: c.Name}
	})
	papers := each(s.Papers, func(p store.PaperRule) contract.PaperRule {
		return contract.PaperRule{Field: p.Field, Words: p.Words, Below: p.Below, Invoice: p.Number, SupplierNumber: p.SupplierNumber}
	})
	invoicers := each(s.Invoicers, func(i store.Invoicer) contract.Invoicer {
		return contract.Invoicer{Code: i.Code, Name: i.Name, By: i.ByName, Confirmed: i.Confirmed != 0, Own: actorOf(ctx).Is(i.By)}
	})
	standing := each(s.Standing, standingOf(s.Currency))
	accounts := each(s.Accounts, func(a trade.BankAccount) contract.BankAccount {
		return contract.BankAccount{
			Iban:       accountFor(ctx, a.IBAN),
			Bic:        a.BIC,
			By:         some(s.AccountNames[a.By]),
			MayConfirm: some(a.By != 0 && a.By != actorOf(ctx).ID),
		}
	})
	decisions := each(s.Decisions, func(d store.SupplierDecision) contract.SupplierDecision {
		switch d.What {
		case store.HoldDecision:
			d.Was, d.Becomes = say.State(d.Was), say.State(d.Becomes)
		case store.PayeeDecision: // a name
		default:
			d.Was, d.Becomes = accountFor(ctx, d.Was), accountFor(ctx, d.Becomes)
		}
		return contract.SupplierDecision{
			What:    d.What,
			Was:     d.Was,
			Becomes: d.Becomes,
			Reason:  d.Reason,
			By:      d.ByName,
			At:      d.At,
		}
	})
	return contract.GetSupplier200JSONResponse{
		MoreOthers:      some(s.MoreOthers),
		Code:            s.Code,
		Version:         s.Version,
		Name:            s.Name,
		NotYet:          s.NotYet,
		Once:            s.Once,
		TaxId:           s.TaxID,
		Untaxed:         s.Untaxed,
		Country:         s.Country,
		Language:        s.Language,
		Currency:        string(s.Currency),
		Holds:           new(each(s.Holds, func(h trade.SupplierHold) string { return string(h) })),
		Held:            some(say.Holds(s.Holds)),
		OpenOrders:      some(s.OpenOrders),
		Mails:           mailSlips(s.Mails),
		OpenInvoices:    some(s.OpenInvoices),
		Iban:            accountFor(ctx, s.IBAN),
		Bic:             s.BIC,
		AccountAlso:     new(append([]string{}, s.Also...)),
		LimitsBy:        ownersOf(s.Owners),
		AccountRejected: some(s.Rejected),
		AccountBy:       some(s.AccountNames[s.AccountBy]),
		MayConfirm:      some(s.AccountBy != 0 && s.AccountBy != actorOf(ctx).ID),
		PayTo:           s.PayToCode,
		Level:           string(s.Level),
		FromReceipt:     t.FromReceipt,
		NetDays:         t.NetDays,
		EndOfMonth:      t.EndOfMonth,
		DayOfMonth:      t.DayOfMonth,
		DiscountPercent: t.DiscountPercent.String(),
		DiscountDays:    t.DiscountDays,
		LaterDiscounts:  some(string(t.Later)),
		Instalments:     some(string(t.Instalments)),
		Budget:          s.Budget,
		Group:           some(s.Group),
		TaxCode:         some(s.Tax),
		LeastOrder:      s.LeastOrder.Text(s.Currency),
		FreeFrom:        s.FreeFrom.Text(s.Currency),
		ClosedDays:      s.ClosedDays,
		Incomplete:      s.Incomplete,
		Addresses: each(s.Addresses, func(a store.Address) contract.Address {
			lines := say.Address{
				Name:     s.Name,
				Street:   a.Street,
				City:     a.City,
				Region:   a.Region,
				Postcode: a.Postcode,
				Country:  a.Country,
			}.Lines(
				"",
			)
			return contract.Address{
				Purposes: append([]string{}, a.Purposes...),
				Street:   a.Street,
				City:     a.City,
				Region:   a.Region,
				Postcode: a.Postcode,
				Country:  a.Country,
				Lines:    &lines,
			}
		}),
		Accounts:  &accounts,
		Limits:    each(s.Limits, limitOf(s.Company)),
		Contacts:  &contacts,
		Others:    &others,
		Notes:     &notes,
		Prices:    &prices,
		Standing:  &standing,
		Invoicers: &invoicers,

		SelfBilling: selfBillingOf(s),
		Codes:       &codes,
		Papers:      &papers,
		Known: &contract.SupplierKnown{
			CustomerNumber: s.CustomerNumber, OtherNames: append([]string{}, s.OtherNames...), StandingText: s.StandingText,
		},
		Decisions: &decisions,
	}, nil
}

// SaveSupplier makes a supplier, or changes it.
func (h *handlers) SaveSupplier(
	ctx context.Context,
	r contract.SaveSupplierRequestObject,
) (contract.SaveSupplierResponseObject, error) {
	var n numbers
	b := r.Body
	currency := money.Currency(strings.ToUpper(b.Currency))
	s := trade.Supplier{
		Code:       b.Code,
		Name:       b.Name,
		NotYet:     b.NotYet,
		Once:       b.Once,
		TaxID:      b.TaxId,
		Untaxed:    b.Untaxed,
		Country:    b.Country,
		Language:   b.Language,
		Currency:   currency,
		IBAN:       b.Iban,
		BIC:        b.Bic,
		Level:      trade.Level(b.Level),
		Budget:     b.Budget,
		Tax:        value(b.TaxCode),
		ClosedDays: b.ClosedDays,
		Version:    b.Version,
		Terms: trade.Terms{
			FromReceipt:     b.FromReceipt,
			NetDays:         b.NetDays,
			EndOfMonth:      b.EndOfMonth,
			DayOfMonth:      b.DayOfMonth,
			DiscountDays:    b.DiscountDays,
			DiscountPercent: n.decimal(b.DiscountPercent, "discountPercent", "The discount"),
			Later:           n.steps(b.LaterDiscounts, "laterDiscounts"),
			Instalments:     n.steps(b.Instalments, "instalments"),
		},
	}
	if currency.Known() {
		amounts := act.Amounts{Currency: currency}
		s.LeastOrder = amounts.Of(entered(&b.LeastOrder), "leastOrder", "The minimum order value")
		s.FreeFrom = amounts.Of(entered(&b.FreeFrom), "freeFrom", "The threshold")
		n.faults = append(n.faults, amounts.Faults...)
	}
	if s.Level != "" && !s.Level.Known() {
		n.faults = append(n.faults, fault.New(fault.Invalid, "level", "Choose how invoices are matched."))
	}
	if strings.Trim(s.ClosedDays, "1234567") != "" {
		n.faults = append(
			n.faults,
			fault.New(fault.Invalid, "closedDays", "Days without deliveries are days of the week."),
		)
	}
	if b.Accounts != nil {
		s.Accounts = each(
			*b.Accounts,
			func(a contract.BankAccount) trade.BankAccount { return trade.BankAccount{IBAN: a.Iban, BIC: a.Bic} },
		)
	}
	entry := masters.SupplierEntry{
		Supplier:      s,
		PayToCode:     b.PayTo,
		AccountReason: value(b.AccountReason),
		OnTheFly:      value(b.OnTheFly),
		Group:         b.Group,
		Limits:        n.limits(b.Limits, "limits"),
		Addresses: each(b.Addresses, func(a contract.Address) store.Address {
			return store.Address{
				Purposes: a.Purposes,
				Street:   a.Street,
				City:     a.City,
				Region:   a.Region,
				Postcode: a.Postcode,
				Country:  a.Country,
			}
		}),
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	saved, err := masters.SaveSupplier(ctx, h.app, command(ctx, r.Params.Key, b), entry)
	return contract.SaveSupplier200JSONResponse{Number: saved.Code}, err
}

// HoldSupplier puts a hold on a supplier, or lifts one.
func (h *handlers) HoldSupplier(
	ctx context.Context,
	r contract.HoldSupplierRequestObject,
) (contract.HoldSupplierResponseObject, error) {
	saved, err := masters.HoldSupplier(ctx, h.app, command(ctx, r.Params.Key, r.Body), masters.HoldEntry{
		Code:   r.Code,
		Hold:   trade.SupplierHold(r.Body.Hold),
		Lift:   r.Body.Lift,
		Reason: r.Body.Reason,
	})
	return contract.HoldSupplier200JSONResponse{Number: saved.Code}, err
}

// ConfirmAccount confirms a changed bank account.
func (h *handlers) ConfirmAccount(
	ctx context.Context,
	r contract.ConfirmAccountRequestObject,
) (contract.ConfirmAccountResponseObject, error) {
	seen := masters.AccountSeen{IBAN: r.Body.Iban, BIC: r.Body.Bic, PayTo: r.Body.PayTo, Checked: r.Body.Checked}
	saved, err := masters.ConfirmAccount(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Code, seen)
	return contract.ConfirmAccount200JSONResponse{Number: saved.Code}, err
}

// SaveContact writes a contact of a supplier.
func (h *handlers) SaveContact(
	ctx context.Context,
	r contract.SaveContactRequestObject,
) (contract.SaveContactResponseObject, error) {
	b := r.Body
	saved, err := masters.SaveContact(ctx, h.app, command(ctx, r.Params.Key, b), r.Code, store.Contact{
		Number:   value(b.Number),
		Name:     b.Name,
		Role:     b.Role,
		Mail:     b.Mail,
		Phone:    b.Phone,
		Language: b.Language,
		Purposes: b.Purposes,
		Ended:    value(b.Ended),
	})
	return contract.SaveContact200JSONResponse{Number: saved.Code}, err
}

// GetNotes lists the notes that are shown in a stage today.
func (h *handlers) GetNotes(
	ctx context.Context,
	r contract.GetNotesRequestObject,
) (contract.GetNotesResponseObject, error) {
	notes, err := masters.NotesFor(ctx, h.app, r.Code, r.Params.Stage)
	return contract.GetNotes200JSONResponse(each(notes, noteOf)), err
}

// SaveNote writes a note on a supplier.
func (h *handlers) SaveNote(
	ctx context.Context,
	r contract.SaveNoteRequestObject,
) (contract.SaveNoteResponseObject, error) {
	b := r.Body
	saved, err := masters.SaveNote(ctx, h.app, command(ctx, r.Params.Key, b), r.Code, store.SupplierNote{
		No:     value(b.No),
		Kind:   b.Kind,
		Urgent: b.Urgent,
		Text:   b.Text,
		From:   day.Day(b.From),
		Until:  day.Day(b.Until),
		Stages: b.Stages,
		Ended:  value(b.Ended),
	})
	return contract.SaveNote200JSONResponse{Number: saved.Code}, err
}

// SavePrice writes an agreed price.
func (h *handlers) SavePrice(
	ctx context.Context,
	r contract.SavePriceRequestObject,
) (contract.SavePriceResponseObject, error) {
	var n numbers
	b := r.Body
	entry := masters.PriceEntry{
		Supplier: r.Code,
		Item:     b.Item,
		Ended:    value(b.Ended),
		AgreedPrice: trade.AgreedPrice{
			From:  day.Day(b.From),
			Until: day.Day(b.Until),
			Least: n.decimal(b.Least, "least", "The quantity"),
			Price: n.decimal(b.Price, "price", "The price"),
			Base:  n.base(b.Base, "base"),
		},
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	saved, err := masters.SavePrice(ctx, h.app, command(ctx, r.Params.Key, b), entry)
	return contract.SavePrice200JSONResponse{Number: saved.Code}, err
}

func standingOf(currency money.Currency) func(trade.StandingCharge) contract.StandingCharge {
	return func(c trade.StandingCharge) contract.StandingCharge {
		s := contract.StandingCharge{Kind: c.Kind}
		if c.Percent > 0 {
			s.Percent = c.Percent.String()
		} else {
			s.Amount = c.Amount.Text(currency)
		}
		return s
	}
}

// NameInvoicer names who may invoice in a supplier's place.
func (h *handlers) NameInvoicer(
	ctx context.Context,
	r contract.NameInvoicerRequestObject,
) (contract.NameInvoicerResponseObject, error) {
	saved, err := masters.NameInvoicer(ctx, h.app, command(ctx, r.Params.Key, r.Body),
		masters.InvoicerEntry{Supplier: r.Code, Invoicer: r.Body.Invoicer, Ended: value(r.Body.Ended)})
	return contract.NameInvoicer200JSONResponse{Number: saved.Code}, err
}

// ConfirmInvoicer confirms who may invoice in a supplier's place.
func (h *handlers) ConfirmInvoicer(
	ctx context.Context,
	r contract.ConfirmInvoicerRequestObject,
) (contract.ConfirmInvoicerResponseObject, error) {
	saved, err := masters.ConfirmInvoicer(ctx, h.app, command(ctx, r.Params.Key, r.Body),
		masters.InvoicerEntry{Supplier: r.Code, Invoicer: r.Body.Invoicer})
	return contract.ConfirmInvoicer200JSONResponse{Number: saved.Code}, err
}

// SaveStandingCharge writes what a supplier always charges.
func (h *handlers) SaveStandingCharge(
	ctx context.Context,
	r contract.SaveStandingChargeRequestObject,
) (contract.SaveStandingChargeResponseObject, error) {
	var n numbers
	entry := masters.StandingEntry{
		Supplier: r.Code,
		Kind:     r.Body.Kind,
		Percent:  n.decimal(cmp.Or(r.Body.Percent, "0"), "percent", "The per cent"),
		Amount:   entered(&r.Body.Amount),
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	saved, err := masters.SaveStandingCharge(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.SaveStandingCharge200JSONResponse{Number: saved.Code}, err
}

// GetPerformance tells how a supplier delivers.
func (h *handlers) GetPerformance(
	ctx context.Context,
	r contract.GetPerformanceRequestObject,
) (contract.GetPerformanceResponseObject, error) {
	p, err := masters.Performance(ctx, h.app, r.Code, day.Day(r.Params.From), day.Day(r.Params.Until))
	if err != nil {
		return nil, err
	}
	answer := contract.GetPerformance200JSONResponse{
		More: p.More, From: string(p.From), Until: string(p.Until), Figures: sharesOf(p.Performance), Lines: each(p.Lines, deliveredOf(p.Company)),
	}
	if p.Known {
		answer.Score = new(p.Score.String())
	}
	return answer, nil
}

// ofLines are the figures that count lines, one by one.
var ofLines = map[trade.Figure]bool{trade.OnTime: true, trade.InFull: true, trade.OrderPrice: true}

func sharesOf(p trade.Performance) []contract.Share {
	return each(trade.Figures, func(f trade.Figure) contract.Share {
		s := p[f]
		share := contract.Share{Figure: string(f), Lines: s.Lines, Percent: s.Percent().String()}
		if ofLines[f] {
			share.Good = new(int(s.Good))
		}
		return share
	})
}

func deliveredOf(company money.Currency) func(trade.Delivered) contract.Delivered {
	return func(l trade.Delivered) contract.Delivered {
		line := contract.Delivered{
			Order: l.Order, Line: l.Line, Description: l.Description, UnitName: say.Unit(l.Unit), WantedOn: string(l.WantedOn),
			Ordered: l.Ordered.String(), Received: l.Received().String(), Returned: l.Returned.String(), LastDay: string(l.LastDay()),
			Dearer: l.Dearer.Text(company), Cheaper: l.Cheaper.Text(company), Invoiced: l.Invoiced, Deliveries: []int64{},
			Good: []string{}, Not: []string{},
		}
		for _, a := range l.Arrivals {
			if !slices.Contains(line.Deliveries, a.Delivery) {
				line.Deliveries = append(line.Deliveries, a.Delivery)
			}
		}
		shares := l.Shares()
		for _, f := range trade.Figures {
			s, counts := shares[f]
			switch {
			case !counts:
			case s.Good == s.Of || (f == trade.Returned && s.Good > 0):
				line.Good = append(line.Good, string(f))
			default:
				line.Not = append(line.Not, string(f))
			}
		}
		return line
	}
}

// GetRanking tells how suppliers deliver, the best first.
func (h *handlers) GetRanking(ctx context.Context, r contract.GetRankingRequestObject) (contract.GetRankingResponseObject, error) {
	k, err := masters.Rank(ctx, h.app, day.Day(value(r.Params.From)), day.Day(value(r.Params.Until)))
	weights := contract.Weights{}
	for f, n := range k.Weights {
		weights[string(f)] = n
	}
	return contract.GetRanking200JSONResponse{
		From: string(k.From), Until: string(k.Until), Cut: k.Cut, Weights: weights,
		Suppliers: each(k.Suppliers, func(s masters.RankedSupplier) contract.RankedSupplier {
			to := contract.RankedSupplier{Code: s.Code, Name: s.Name, Lines: s.Lines, Figures: sharesOf(s.Performance)}
			if s.Known {
				to.Score = new(s.Score.String())
			}
			return to
		}),
	}, err
}

// SaveWeights sets how much each figure counts.
func (h *handlers) SaveWeights(ctx context.Context, r contract.SaveWeightsRequestObject) (contract.SaveWeightsResponseObject, error) {
	weights := trade.Weights{}
	for f, n := range *r.Body {
		weights[trade.Figure(f)] = n
	}
	saved, err := masters.SaveWeights(ctx, h.app, command(ctx, r.Params.Key, r.Body), weights)
	return contract.SaveWeights200JSONResponse{Number: saved.Code}, err
}

// GetSuppliers lists the suppliers.
func (h *handlers) GetSuppliers(
	ctx context.Context,
	_ contract.GetSuppliersRequestObject,
) (contract.GetSuppliersResponseObject, error) {
	suppliers, err := views.Suppliers(ctx, h.app)
	return contract.GetSuppliers200JSONResponse{Rows: each(suppliers.Rows, supplierOf), More: suppliers.More}, err
}

func supplierOf(s trade.Supplier) contract.SupplierName {
	return contract.SupplierName{
		Code:       s.Code,
		Name:       s.Name,
		Currency:   string(s.Currency),
		Held:       say.Holds(s.Holds),
		Ended:      s.Holds.Has(trade.SupplierEnded),
		NotYet:     s.NotYet,
		Once:       s.Once,
		Incomplete: s.Incomplete,
		Country:    s.Country,
	}
}

func noteOf(n store.SupplierNote) contract.SupplierNote {
	return contract.SupplierNote{
		No:     &n.No,
		Kind:   n.Kind,
		Urgent: n.Urgent,
		Text:   n.Text,
		From:   string(n.From),
		Until:  string(n.Until),
		Stages: append([]string{}, n.Stages...),
	}
}

func contactOf(c store.Contact) contract.Contact {
	return contract.Contact{
		Number:   &c.Number,
		Name:     c.Name,
		Role:     c.Role,
		Mail:     c.Mail,
		Phone:    c.Phone,
		Language: c.Language,
		Purposes: append([]string{}, c.Purposes...),
	}
}

func priceOf(p store.ItemPrice) contract.AgreedPrice {
	return contract.AgreedPrice{
		Item:  p.Item,
		From:  string(p.From),
		Until: string(p.Until),
		Least: p.Least.String(),
		Price: p.Price.String(),
		Base:  p.Base.String(),
	}
}

// SaveKnown writes how a supplier knows us.
func (h *handlers) SaveKnown(ctx context.Context, r contract.SaveKnownRequestObject) (contract.SaveKnownResponseObject, error) {
	saved, err := masters.SaveKnown(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Code, masters.Known{
		CustomerNumber: r.Body.CustomerNumber, OtherNames: r.Body.OtherNames, StandingText: r.Body.StandingText,
	})
	return contract.SaveKnown200JSONResponse{Number: saved.Code}, err
}

// ForgetPaper forgets what was learned of a supplier's papers.
func (h *handlers) ForgetPaper(ctx context.Context, r contract.ForgetPaperRequestObject) (contract.ForgetPaperResponseObject, error) {
	saved, err := masters.ForgetPaper(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Code, r.Body.Field)
	return contract.ForgetPaper200JSONResponse{Number: saved.Code}, err
}

// ForgetCode forgets what a code of a supplier stood for.
func (h *handlers) ForgetCode(
	ctx context.Context,
	r contract.ForgetCodeRequestObject,
) (contract.ForgetCodeResponseObject, error) {
	saved, err := masters.ForgetCode(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Code, r.Body.Code)
	return contract.ForgetCode200JSONResponse{Number: saved.Code}, err
}
