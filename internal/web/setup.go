package web

import (
	"bytes"
	"context"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/tabular"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/say"
	"lagoon/internal/store"
	"lagoon/internal/tables"
	"lagoon/internal/web/contract"
)

// limits reads limits as they were typed; blank is not set.
func (n *numbers) limits(entries []contract.Limit, field string, currency money.Currency) limit.Book {
	all := limit.Book{}
	for i, e := range entries {
		entry := limit.Rule{Kind: limit.Kind(e.Kind), Side: limit.Side(e.Side)}
		at := fmt.Sprintf("%s[%d]", field, i)
		if !slices.Contains(limit.Kinds, entry.Kind) || (entry.Side != limit.Over && entry.Side != limit.Under) {
			n.faults = append(n.faults, fault.New(fault.Invalid, at, "There is no such limit."))
			continue
		}
		if text := strings.TrimSpace(value(e.Percent)); text != "" {
			percent := n.decimal(text, at, "The percentage")
			entry.Percent = &percent
		}
		if text := strings.TrimSpace(value(e.Absolute)); text != "" {
			absolute := int64(0)
			if entry.Kind.OfQuantity() {
				absolute = int64(n.decimal(text, at, "The quantity"))
			} else {
				absolute = int64(n.amount(text, at, "The amount", currency))
			}
			entry.Absolute = &absolute
		}
		all = append(all, entry)
	}
	return all
}

func limitOf(currency money.Currency) func(store.LimitRule) contract.Limit {
	return func(r store.LimitRule) contract.Limit { return ruleOf(r.Rule, currency) }
}

func ruleOf(r limit.Rule, currency money.Currency) contract.Limit {
	l := contract.Limit{Kind: string(r.Kind), Side: string(r.Side)}
	if r.Percent != nil {
		l.Percent = some(r.Percent.String())
	}
	if r.Absolute != nil {
		text := money.Amount(*r.Absolute).Text(currency)
		if r.Kind.OfQuantity() {
			text = money.Decimal(*r.Absolute).String()
		}
		l.Absolute = &text
	}
	return l
}

// accountFor is a bank account as the reader may see it.
func accountFor(ctx context.Context, iban string) string {
	if actorOf(ctx).SeesAccounts() {
		return iban
	}
	return act.HiddenAccount(iban)
}

func ownersOf(owners []masters.Owner) *[]string {
	return new(each(owners, func(o masters.Owner) string { return o.Name }))
}

// SetLimits changes limits and match level of one level.
func (h *handlers) SetLimits(ctx context.Context, r contract.SetLimitsRequestObject) (contract.SetLimitsResponseObject, error) {
	entry, err := h.limitsEntry(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	saved, err := masters.SetLimits(ctx, h.app, command(ctx, r.Params.Key, r.Body), entry)
	return contract.SetLimits200JSONResponse{Number: saved.Code}, err
}

// PreviewLimits tells which open invoices a change of limits would let pass.
func (h *handlers) PreviewLimits(ctx context.Context, r contract.PreviewLimitsRequestObject) (contract.PreviewLimitsResponseObject, error) {
	entry, err := h.limitsEntry(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	plan, err := masters.PlanLimits(ctx, h.app, actorOf(ctx), entry)
	return contract.PreviewLimits200JSONResponse{Tried: plan.Tried, Passing: each(plan.Passing, func(p masters.Passing) contract.Passing {
		return contract.Passing{Invoice: p.Invoice, SupplierNumber: p.SupplierNumber, Supplier: p.Supplier, Total: p.Total.Text(p.Currency), Currency: string(p.Currency)}
	})}, err
}

// ConfirmLimits confirms limits that others changed.
func (h *handlers) ConfirmLimits(ctx context.Context, r contract.ConfirmLimitsRequestObject) (contract.ConfirmLimitsResponseObject, error) {
	saved, err := masters.ConfirmLimits(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Body.Supplier, r.Body.Item)
	return contract.ConfirmLimits200JSONResponse{Number: saved.Code}, err
}

func (h *handlers) limitsEntry(ctx context.Context, b *contract.LimitsEntry) (masters.LimitsEntry, error) {
	setting, err := h.app.Setting(ctx) // the limits of company, suppliers and items are in its currency (rules §2)
	if err != nil {
		return masters.LimitsEntry{}, err
	}
	var n numbers
	entry := masters.LimitsEntry{Supplier: b.Supplier, Item: b.Item, Level: trade.Level(b.Level), Limits: n.limits(b.Limits, "limits", setting.Company.Currency), Reason: b.Reason}
	if b.OverDelivery != nil && b.UnderDelivery != nil {
		entry.Policy = &trade.Policy{OverDelivery: *b.OverDelivery, UnderDelivery: *b.UnderDelivery}
	}
	return entry, n.faults.OrNil()
}

// GetSupplier reads a supplier.
func (h *handlers) GetSupplier(ctx context.Context, r contract.GetSupplierRequestObject) (contract.GetSupplierResponseObject, error) {
	s, err := masters.ReadSupplier(ctx, h.app, r.Code)
	if err != nil {
		return nil, err
	}
	setting, err := h.app.Setting(ctx)
	if err != nil {
		return nil, err
	}
	t := s.Terms
	contacts, others, notes, prices := each(s.Contacts, contactOf), each(s.Others, contactOf), each(s.Notes, noteOf), each(s.Prices, priceOf)
	accounts := each(s.Accounts, func(a trade.BankAccount) contract.BankAccount {
		return contract.BankAccount{Iban: accountFor(ctx, a.IBAN), Bic: a.BIC, By: some(s.AccountNames[a.By]), MayConfirm: some(a.By != 0 && a.By != actorOf(ctx).ID)}
	})
	decisions := each(s.Decisions, func(d store.SupplierDecision) contract.SupplierDecision {
		if d.What != store.StatusDecision && d.What != store.PayeeDecision {
			d.Was, d.Becomes = accountFor(ctx, d.Was), accountFor(ctx, d.Becomes)
		}
		return contract.SupplierDecision{What: d.What, Was: d.Was, Becomes: d.Becomes, Reason: d.Reason, By: d.ByName, At: d.At}
	})
	return contract.GetSupplier200JSONResponse{
		MoreOthers:      some(s.MoreOthers),
		Code:            s.Code,
		Version:         s.Version,
		Name:            s.Name,
		Kind:            string(s.Kind),
		TaxId:           s.TaxID,
		Untaxed:         s.Untaxed,
		Country:         s.Country,
		Language:        s.Language,
		Currency:        string(s.Currency),
		Status:          string(s.Status),
		Iban:            accountFor(ctx, s.IBAN),
		Bic:             s.BIC,
		AccountAlso:     new(append([]string{}, s.Also...)),
		LimitsBy:        ownersOf(s.Owners),
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
		Budget:          s.Budget,
		LeastOrder:      s.LeastOrder.Text(s.Currency),
		FreeFrom:        s.FreeFrom.Text(s.Currency),
		ClosedDays:      s.ClosedDays,
		Incomplete:      s.Incomplete,
		Addresses: each(s.Addresses, func(a store.Address) contract.Address {
			lines := say.Address{Name: s.Name, Street: a.Street, City: a.City, Region: a.Region, Postcode: a.Postcode, Country: a.Country}.Lines("")
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
		Limits:    each(s.Limits, limitOf(setting.Company.Currency)),
		Contacts:  &contacts,
		Others:    &others,
		Notes:     &notes,
		Prices:    &prices,
		Decisions: &decisions,
	}, nil
}

// SaveSupplier makes a supplier, or changes it.
func (h *handlers) SaveSupplier(ctx context.Context, r contract.SaveSupplierRequestObject) (contract.SaveSupplierResponseObject, error) {
	var n numbers
	b := r.Body
	setting, err := h.app.Setting(ctx)
	if err != nil {
		return nil, err
	}
	currency := money.Currency(strings.ToUpper(b.Currency))
	s := trade.Supplier{
		Code:       b.Code,
		Name:       b.Name,
		Kind:       trade.SupplierKind(b.Kind),
		TaxID:      b.TaxId,
		Untaxed:    b.Untaxed,
		Country:    b.Country,
		Language:   b.Language,
		Currency:   currency,
		IBAN:       b.Iban,
		BIC:        b.Bic,
		Level:      trade.Level(b.Level),
		Budget:     b.Budget,
		ClosedDays: b.ClosedDays,
		Version:    b.Version,
		Terms: trade.Terms{
			FromReceipt:     b.FromReceipt,
			NetDays:         b.NetDays,
			EndOfMonth:      b.EndOfMonth,
			DayOfMonth:      b.DayOfMonth,
			DiscountDays:    b.DiscountDays,
			DiscountPercent: n.decimal(b.DiscountPercent, "discountPercent", "The discount"),
		},
	}
	if currency.Known() {
		s.LeastOrder = n.amount(b.LeastOrder, "leastOrder", "The minimum order value", currency)
		s.FreeFrom = n.amount(b.FreeFrom, "freeFrom", "The threshold", currency)
	}
	if s.Kind != trade.Regular && s.Kind != trade.OneOff && s.Kind != trade.Prospective {
		n.faults = append(n.faults, fault.New(fault.Invalid, "kind", "Choose what kind of supplier it is."))
	}
	if s.Level != "" && !s.Level.Known() {
		n.faults = append(n.faults, fault.New(fault.Invalid, "level", "Choose how invoices are matched."))
	}
	if strings.Trim(s.ClosedDays, "1234567") != "" {
		n.faults = append(n.faults, fault.New(fault.Invalid, "closedDays", "Days without deliveries are days of the week."))
	}
	if b.Accounts != nil {
		s.Accounts = each(*b.Accounts, func(a contract.BankAccount) trade.BankAccount { return trade.BankAccount{IBAN: a.Iban, BIC: a.Bic} })
	}
	entry := masters.SupplierEntry{
		Supplier:      s,
		PayToCode:     b.PayTo,
		AccountReason: value(b.AccountReason),
		OnTheFly:      value(b.OnTheFly),
		Limits:        n.limits(b.Limits, "limits", setting.Company.Currency),
		Addresses: each(b.Addresses, func(a contract.Address) store.Address {
			return store.Address{Purposes: a.Purposes, Street: a.Street, City: a.City, Region: a.Region, Postcode: a.Postcode, Country: a.Country}
		}),
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	saved, err := masters.SaveSupplier(ctx, h.app, command(ctx, r.Params.Key, b), entry)
	return contract.SaveSupplier200JSONResponse{Number: saved.Code}, err
}

// ChangeSupplierStatus changes what may be done with a supplier.
func (h *handlers) ChangeSupplierStatus(ctx context.Context, r contract.ChangeSupplierStatusRequestObject) (contract.ChangeSupplierStatusResponseObject, error) {
	saved, err := masters.ChangeStatus(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Code, trade.SupplierStatus(r.Body.Status), r.Body.Reason)
	return contract.ChangeSupplierStatus200JSONResponse{Number: saved.Code}, err
}

// ConfirmAccount confirms a changed bank account.
func (h *handlers) ConfirmAccount(ctx context.Context, r contract.ConfirmAccountRequestObject) (contract.ConfirmAccountResponseObject, error) {
	seen := masters.AccountSeen{IBAN: r.Body.Iban, BIC: r.Body.Bic, PayTo: r.Body.PayTo}
	saved, err := masters.ConfirmAccount(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Code, seen)
	return contract.ConfirmAccount200JSONResponse{Number: saved.Code}, err
}

// SaveContact writes a contact of a supplier.
func (h *handlers) SaveContact(ctx context.Context, r contract.SaveContactRequestObject) (contract.SaveContactResponseObject, error) {
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
func (h *handlers) GetNotes(ctx context.Context, r contract.GetNotesRequestObject) (contract.GetNotesResponseObject, error) {
	notes, err := masters.NotesFor(ctx, h.app, r.Code, r.Params.Stage)
	return contract.GetNotes200JSONResponse(each(notes, noteOf)), err
}

// SaveNote writes a note on a supplier.
func (h *handlers) SaveNote(ctx context.Context, r contract.SaveNoteRequestObject) (contract.SaveNoteResponseObject, error) {
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
func (h *handlers) SavePrice(ctx context.Context, r contract.SavePriceRequestObject) (contract.SavePriceResponseObject, error) {
	var n numbers
	b := r.Body
	entry := masters.PriceEntry{
		Supplier: r.Code,
		Item:     b.Item,
		Ended:    value(b.Ended),
		AgreedPrice: trade.AgreedPrice{From: day.Day(b.From), Until: day.Day(b.Until), Least: n.decimal(b.Least, "least", "The quantity"),
			Price: n.decimal(b.Price, "price", "The price"), Base: n.base(b.Base, "base")},
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	saved, err := masters.SavePrice(ctx, h.app, command(ctx, r.Params.Key, b), entry)
	return contract.SavePrice200JSONResponse{Number: saved.Code}, err
}

// GetPerformance tells how a supplier delivers.
func (h *handlers) GetPerformance(ctx context.Context, r contract.GetPerformanceRequestObject) (contract.GetPerformanceResponseObject, error) {
	p, err := masters.Performance(ctx, h.app, r.Code, day.Day(r.Params.From), day.Day(r.Params.Until))
	if err != nil {
		return nil, err
	}
	setting, err := h.app.Setting(ctx)
	return contract.GetPerformance200JSONResponse{More: p.More, From: string(p.From), Until: string(p.Until),
		Figures: each(trade.Figures, func(f trade.Figure) contract.Share {
			s := p.Performance[f]
			return contract.Share{Figure: string(f), Good: s.Good, Of: s.Of, Percent: s.Percent().String()}
		}),
		Lines: each(p.Lines, func(l trade.Delivered) contract.Delivered {
			line := contract.Delivered{
				Order:       l.Order,
				Line:        l.Line,
				Description: l.Description,
				UnitName:    say.Unit(l.Unit),
				WantedOn:    string(l.WantedOn),
				Ordered:     l.Ordered.String(),
				Received:    l.Received.String(),
				Returned:    l.Returned.String(),
				LastDay:     string(l.LastDay),
				Dearer:      l.Dearer.Text(setting.Company.Currency),
				Cheaper:     l.Cheaper.Text(setting.Company.Currency),
				Invoiced:    l.Invoiced,
				Deliveries:  append([]int64{}, l.Deliveries...),
				Good:        []string{},
				Not:         []string{},
			}
			counts := l.Counts()
			for _, f := range trade.Figures {
				if good, in := counts[f]; in && good {
					line.Good = append(line.Good, string(f))
				} else if in {
					line.Not = append(line.Not, string(f))
				}
			}
			return line
		})}, err
}

// GetFrame reads what the company decides for all.
func (h *handlers) GetFrame(ctx context.Context, _ contract.GetFrameRequestObject) (contract.GetFrameResponseObject, error) {
	f, err := masters.ReadFrame(ctx, h.app)
	c := f.Company
	return contract.GetFrame200JSONResponse{
		More:        f.More,
		Open:        f.Open,
		Closed:      append([]string{}, f.Closed...),
		HoldReasons: each(say.HoldReasons(), func(r [2]string) contract.UnitName { return contract.UnitName{Code: r[0], Name: r[1]} }),
		Units:       each(say.Units(), func(u [2]string) contract.UnitName { return contract.UnitName{Code: u[0], Name: u[1]} }),
		Budgets:     each(f.Budgets, budgetOf),
		Charges: each(f.Charges, func(k trade.ChargeKind) contract.ChargeKind {
			return contract.ChargeKind{Name: k.Name, Standard: k.Standard, Ended: k.Ended}
		}),
		Rates: each(f.Rates, func(r store.ExchangeRate) contract.Rate {
			return contract.Rate{Currency: string(r.Currency), Day: string(r.Day), Rate: r.Rate.String()}
		}),
		LimitsBy: ownersOf(f.Owners),
		Company: contract.CompanyEntry{
			Address:       c.Address,
			Place:         c.Place,
			Mail:          c.Mail,
			OverDelivery:  c.Policy.OverDelivery,
			UnderDelivery: c.Policy.UnderDelivery,
			TwoStep:       c.TwoStep,
			Level:         string(c.Level),
			Limits:        each(f.Limits, limitOf(c.Currency)),
		},
	}, err
}

// SaveCompany changes what the company decides for all.
func (h *handlers) SaveCompany(ctx context.Context, r contract.SaveCompanyRequestObject) (contract.SaveCompanyResponseObject, error) {
	var n numbers
	b := r.Body
	setting, err := h.app.Setting(ctx)
	if err != nil {
		return nil, err
	}
	entry := masters.CompanyEntry{
		Address:       b.Address,
		Place:         b.Place,
		Mail:          b.Mail,
		OverDelivery:  b.OverDelivery,
		UnderDelivery: b.UnderDelivery,
		TwoStep:       b.TwoStep,
		Level:         trade.Level(b.Level),
		Limits:        n.limits(b.Limits, "limits", setting.Company.Currency),
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	_, err = masters.SaveCompany(ctx, h.app, command(ctx, r.Params.Key, b), entry)
	return contract.SaveCompany200JSONResponse{Number: "1"}, err
}

// SaveBudget writes what orders can be charged to.
func (h *handlers) SaveBudget(ctx context.Context, r contract.SaveBudgetRequestObject) (contract.SaveBudgetResponseObject, error) {
	saved, err := masters.SaveBudget(ctx, h.app, command(ctx, r.Params.Key, r.Body), store.Budget{
		Code: r.Body.Code, Name: r.Body.Name, Account: trade.Account(r.Body.Account),
	})
	return contract.SaveBudget200JSONResponse{Number: saved.Code}, err
}

// SaveChargeKind writes a kind of charge.
func (h *handlers) SaveChargeKind(ctx context.Context, r contract.SaveChargeKindRequestObject) (contract.SaveChargeKindResponseObject, error) {
	saved, err := masters.SaveChargeKind(ctx, h.app, command(ctx, r.Params.Key, r.Body), trade.ChargeKind{Name: r.Body.Name, Standard: r.Body.Standard, Ended: r.Body.Ended})
	return contract.SaveChargeKind200JSONResponse{Number: saved.Code}, err
}

// SetRate writes an exchange rate.
func (h *handlers) SetRate(ctx context.Context, r contract.SetRateRequestObject) (contract.SetRateResponseObject, error) {
	var n numbers
	rate := store.ExchangeRate{
		Currency: money.Currency(strings.ToUpper(r.Body.Currency)),
		Day:      day.Day(r.Body.Day),
		Rate:     n.decimal(r.Body.Rate, "rate", "The rate"),
	}
	if err := n.faults.OrNil(); err != nil {
		return nil, err
	}
	saved, err := masters.SetRate(ctx, h.app, command(ctx, r.Params.Key, r.Body), rate)
	return contract.SetRate200JSONResponse{Number: saved.Code}, err
}

// ClosePeriod closes a month of the books.
func (h *handlers) ClosePeriod(ctx context.Context, r contract.ClosePeriodRequestObject) (contract.ClosePeriodResponseObject, error) {
	err := masters.ClosePeriod(ctx, h.app, command(ctx, r.Params.Key, r.Body), r.Body.Month)
	return contract.ClosePeriod200JSONResponse{Number: r.Body.Month}, err
}

// ExportTable gives suppliers, items or orders as a table.
func (h *handlers) ExportTable(ctx context.Context, r contract.ExportTableRequestObject) (contract.ExportTableResponseObject, error) {
	table, err := tables.Export(ctx, h.app, tables.Kind(r.Kind))
	if err != nil {
		return nil, err
	}
	if err := h.app.Note(ctx, command(ctx, nil, nil), act.ExportTable, "table", r.Kind, nil); err != nil {
		return nil, err
	}
	ending := "csv"
	if value(r.Params.As) == "xlsx" {
		ending = "xlsx"
	}
	content, _, err := tabular.Write(table, ending)
	if err != nil {
		return nil, err
	}
	download(ctx, fmt.Sprintf("%s.%s", r.Kind, ending))
	return contract.ExportTable200ApplicationoctetStreamResponse{Body: bytes.NewReader(content), ContentLength: int64(len(content))}, nil
}

// ImportTable takes in a table, or tries it.
func (h *handlers) ImportTable(ctx context.Context, r contract.ImportTableRequestObject) (contract.ImportTableResponseObject, error) {
	var files []act.File
	if err := uploads(r.Body, func(f act.File) error {
		files = append(files, f)
		return nil
	}); err != nil {
		return nil, err
	}
	if len(files) != 1 {
		return nil, fault.New(fault.Invalid, "file", "Choose one table.")
	}
	answer, err := tables.Import(ctx, h.app, command(ctx, nil, nil), tables.Kind(r.Kind), files[0], value(r.Params.Trial))
	return contract.ImportTable200JSONResponse{
		Wrong:  answer.Wrong,
		Orders: append([]int64{}, answer.Orders...),
		Rows: each(answer.Rows, func(o tables.RowOutcome) contract.TableRow {
			return contract.TableRow{Row: o.Row, Name: o.Name, Outcome: o.Outcome, Says: o.Says}
		}),
	}, err
}
