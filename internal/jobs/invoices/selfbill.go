package invoices

// This file writes the invoices that we make out for suppliers ourselves (rules §9).

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/match"
	"lagoon/internal/core/naming"
	"lagoon/internal/core/selfbill"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/format/pdf"
	"lagoon/internal/format/ubl"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// SelfBillEntry selects what a run bills.
type SelfBillEntry struct {
	Supplier string  // code; empty: of everybody with whom it is agreed
	Place    string  // of delivery; empty: everywhere
	Until    day.Day // the last day of receipt; empty: today
}

// KeepSelfBilling keeps what runs select under a name, for all, anew where the name is kept already; or keeps it no longer.
func KeepSelfBilling(ctx context.Context, a *act.App, c act.Command, k store.SelfBillingKept) (store.SelfBillingKept, error) {
	return act.Perform(ctx, a, act.KeepSelfBilling, c, func(w *act.Work) (store.SelfBillingKept, error) {
		k.Name, k.Supplier, k.Place = strings.TrimSpace(k.Name), strings.TrimSpace(k.Supplier), strings.TrimSpace(k.Place)
		if k.Name == "" {
			return k, fault.New(fault.Invalid, "name", "Give it a name.")
		}
		if no := naming.Check(k.Name, "name"); no != nil {
			return k, no
		}
		if k.Supplier != "" {
			supplier, err := w.SupplierByCode(k.Supplier)
			if errors.Is(err, store.ErrNone) {
				return k, act.Unnamed("supplier", k.Supplier)
			} else if err != nil {
				return k, err
			}
			k.Supplier = supplier.Code
		}
		all, err := w.SelfBillingKept()
		if err != nil {
			return k, err
		}
		var before any
		if at := slices.IndexFunc(all, func(o store.SelfBillingKept) bool { return strings.EqualFold(o.Name, k.Name) }); at >= 0 {
			k.Name, before = all[at].Name, all[at]
		} else if k.Ended {
			return k, fault.New(fault.NotFound, "name", "Nothing is kept as %s.", k.Name)
		}
		k.By, k.ByName = w.Actor.ID, w.Actor.Name
		return k, errors.Join(w.PutSelfBillingKept(k), w.RecordAs("company", "self-billing", before, k))
	})
}

// KeptSelfBilling are the selections that are kept, by name.
func KeptSelfBilling(ctx context.Context, a *act.App) ([]store.SelfBillingKept, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]store.SelfBillingKept, error) { return r.SelfBillingKept() })
}

// SelfBilledDocument is an invoice or a credit note that a run made, or would make.
type SelfBilledDocument struct {
	trade.Invoice
	Supplier, Code string // name and code
	Totals         trade.Totals
	Orders         []int64 // numbers
	Receipts       []int64 // numbers
	Mailed         bool
}

// NotBilled is what a run leaves out, and why.
type NotBilled struct {
	selfbill.LeftOut
	Supplier string // name
	Sentence string
}

// SelfBilled answers SelfBill, and its trial.
type SelfBilled struct {
	Made []SelfBilledDocument
	Left []NotBilled
}

// TrialSelfBill tells what a run would make and what it would leave out. It changes nothing.
func TrialSelfBill(ctx context.Context, a *act.App, entry SelfBillEntry) (SelfBilled, error) {
	return act.Read(ctx, a, func(r act.Reading) (SelfBilled, error) {
		return billSelf(r, entry, func(*selfBilling, trade.Supplier, trade.SelfBilling) error { return nil })
	})
}

// SelfBill makes the invoices and credit notes, each verified at once, and mails them to their suppliers. What it makes and
// what it leaves out is decided in one transaction, so that no receipt is billed twice.
func SelfBill(ctx context.Context, a *act.App, c act.Command, entry SelfBillEntry) (SelfBilled, error) {
	all, err := act.Perform(ctx, a, act.SelfBill, c, func(w *act.Work) (SelfBilled, error) {
		all, err := billSelf(w.Reading, entry, func(d *selfBilling, s trade.Supplier, agreed trade.SelfBilling) error { return d.make(w, s, agreed) })
		if err != nil {
			return all, err
		}
		return all, w.RecordAs("company", "self-billing", nil, struct {
			SelfBillEntry
			Documents int
		}{entry, len(all.Made)})
	})
	if err == nil {
		a.Posted.Ring()
	}
	return all, err
}

// billSelf goes through the documents that a run selects: what would be verified at once is made, the rest is left out.
func billSelf(r act.Reading, entry SelfBillEntry, do func(*selfBilling, trade.Supplier, trade.SelfBilling) error) (all SelfBilled, err error) {
	err = eachSelfBiller(r, entry, func(s trade.Supplier, agreed trade.SelfBilling) error {
		documents, left, err := toSelfBill(r, s, agreed, entry)
		if err != nil {
			return err
		}
		all.Left = append(all.Left, left...)
		for _, d := range documents {
			why, err := d.refused(r)
			if err != nil {
				return err
			}
			if why != "" {
				all.Left = append(all.Left, d.leftOut(s, why)...)
				continue
			}
			if err := do(&d, s, agreed); err != nil {
				return err
			}
			all.Made = append(all.Made, d.SelfBilledDocument)
		}
		return nil
	})
	return all, err
}

// eachSelfBiller does something for each supplier that a run selects.
func eachSelfBiller(r act.Reading, entry SelfBillEntry, do func(trade.Supplier, trade.SelfBilling) error) error {
	if _, bad := day.Parse(string(entry.Until)); entry.Until != "" && bad != nil {
		return fault.New(fault.Invalid, "until", "Enter the last day of receipt, or leave it empty.")
	}
	codes := []string{strings.ToUpper(strings.TrimSpace(entry.Supplier))}
	if codes[0] == "" {
		var err error
		if codes, err = r.SelfBillers(); err != nil {
			return err
		}
	}
	for _, code := range codes {
		s, err := r.SupplierByCode(code)
		if err != nil {
			return act.Found(err, "There is no supplier %q.", code)
		}
		agreed, err := r.SelfBilling(s.ID)
		if err != nil {
			return err
		}
		if agreed.ID == 0 {
			return fault.New(fault.Refused, "supplier", "Nothing is agreed with %s about invoices that we write.", s.Name)
		}
		if err := do(s, agreed); err != nil {
			return err
		}
	}
	return nil
}

// selfBilling is a document on its way.
type selfBilling struct {
	SelfBilledDocument
	orders []*trade.Order
}

// books are what the core asks about what was ordered and billed.
type books struct{ act.Reading }

func (b books) LineAt(order *trade.Order, revision, line int) (*trade.OrderLine, error) {
	then, err := b.OrderAt(order.ID, revision)
	if err != nil {
		return nil, err
	}
	if l := then.Line(line); l != nil {
		return l, nil
	}
	return nil, fmt.Errorf("invoices: order %d had no line %d in version %d", order.Number, line, revision)
}

func (b books) Invoice(id int64) (trade.Invoice, error) {
	inv, _, err := b.Standing(id)
	return inv, err
}

// toSelfBill are the documents of one supplier.
func toSelfBill(r act.Reading, s trade.Supplier, agreed trade.SelfBilling, entry SelfBillEntry) (all []selfBilling, left []NotBilled, err error) {
	numbers, err := r.ToSelfBill(s.ID)
	if err != nil {
		return nil, nil, err
	}
	var orders []*trade.Order
	for _, number := range numbers {
		o, err := r.OrderByNumber(number, store.AllReserved)
		if err != nil {
			return nil, nil, err
		}
		if entry.Place == "" || strings.EqualFold(strings.TrimSpace(entry.Place), o.Destination()) {
			orders = append(orders, o)
		}
	}
	until := entry.Until
	if until == "" {
		until = r.Today()
	}
	documents, leaves, err := selfbill.Bill(orders, agreed.Per, until, books{r})
	if err != nil {
		return nil, nil, err
	}
	for _, l := range leaves {
		left = append(left, NotBilled{l, s.Name, say.NotBilled(l.Why)})
	}
	for _, d := range documents {
		one := selfBilling{SelfBilledDocument: SelfBilledDocument{Invoice: d.Invoice, Supplier: s.Name, Code: s.Code, Receipts: d.Receipts}}
		one.Invoice.SupplierStated, one.Note, one.Date = s.Name, agreed.Statement, r.Today()
		for _, o := range orders {
			if slices.Contains(one.Concerns(), o.ID) {
				one.orders, one.Orders = append(one.orders, o), append(one.Orders, o.Number)
			}
		}
		if one.Rate, err = r.RateOn(one.Currency, one.Date); fault.Is(err, fault.Refused) {
			one.Rate, err = 0, nil // the match leaves it out for that
		}
		if err == nil {
			one.PostingDay, err = r.FirstOpenDay(one.Date)
		}
		if err == nil {
			err = r.NameTaxes(&one.Invoice, s, one.orders)
		}
		if err == nil {
			one.Totals, err = one.Invoice.Totals()
		}
		if err != nil {
			return nil, nil, err
		}
		all = append(all, one)
	}
	return all, left, nil
}

// refused says why a document would not be verified at once; empty where it would.
func (d *selfBilling) refused(r act.Reading) (string, error) {
	facts, err := r.FactsOf(d.Invoice, 0, nil)
	if err != nil {
		return "", err
	}
	result, err := match.Run(facts)
	if err != nil || result.Verifies() {
		return "", err
	}
	return say.Summary(result.Findings), nil
}

// leftOut are the lines of a document that is not made.
func (d *selfBilling) leftOut(s trade.Supplier, why string) (all []NotBilled) {
	for _, l := range d.Lines {
		at := selfbill.LeftOut{Name: l.Description, Quantity: l.Quantity}
		if o, ordered := trade.LineOf(d.orders, l.OrderLineID); ordered != nil {
			at.Order, at.Line = o.Number, ordered.No
		}
		all = append(all, NotBilled{at, s.Name, why})
	}
	return all
}

// make gives a document its number, keeps it as UBL, verifies it and mails it.
func (d *selfBilling) make(w *act.Work, s trade.Supplier, agreed trade.SelfBilling) error {
	number, err := w.NextNumber(store.SelfBilledSeries(s.ID))
	if err != nil {
		return err
	}
	d.SupplierNumber = fmt.Sprintf("%s%04d", agreed.Prefix, number)
	file, err := d.file(w.Reading, s, agreed)
	if err != nil {
		return err
	}
	paper, err := w.KeepPaper(d.SupplierNumber+".xml", "application/xml", file, w.Instant())
	if err != nil {
		return err
	}
	captured, err := capture(w, d.Invoice, paper, "written by ourselves", nil)
	if err != nil {
		return err
	}
	if captured.State != trade.Verified {
		return fault.New(fault.Refused, "", "%s %s would not be verified: %s. Nothing was made.", say.Document(d.Kind), d.SupplierNumber, captured.Summary)
	}
	made, _, err := w.InvoiceNumbered(captured.Number)
	if err != nil {
		return err
	}
	d.Invoice = made
	if err := w.AddSelfBilled(made.ID, s.ID, number); err != nil {
		return err
	}
	return d.mail(w, s, agreed, file)
}

// file is a document as UBL.
func (d *selfBilling) file(r act.Reading, s trade.Supplier, agreed trade.SelfBilling) ([]byte, error) {
	to, err := r.Addressee(s, "invoicing")
	if err != nil {
		return nil, err
	}
	b := ubl.Billing{
		Seller: ubl.Party{Name: s.Name, Country: s.Country, TaxID: s.TaxID},
		Buyer:  ubl.Party{Name: r.Ours.Name, Street: r.Ours.Address, Country: r.Ours.Country, TaxID: r.Ours.TaxID},
		IBAN:   s.IBAN, Statement: agreed.Statement, Orders: map[int64]string{},
	}
	if len(to) > 1 {
		b.Seller.Street = to[1]
	}
	for _, o := range d.orders {
		b.Orders[o.ID] = fmt.Sprint(o.Number)
	}
	return ubl.WriteInvoice(d.Invoice, d.Totals, b)
}

// mail sends a document to its supplier, in its language, where both have a mail address.
func (d *selfBilling) mail(w *act.Work, s trade.Supplier, agreed trade.SelfBilling, file []byte) error {
	contact, err := w.Recipient(s.ID, "invoicing")
	if err != nil || contact.Mail == "" || w.Ours.Mail == "" {
		return err
	}
	to, err := w.Addressee(s, "invoicing")
	if err != nil {
		return err
	}
	words := w.LettersTo(s)
	words.To = contact.Name
	doc := words.SelfBilled(d.Invoice, d.Totals, d.orders, to, agreed.Statement)
	doc.On = w.At
	paper, err := pdf.Write(doc)
	if err != nil {
		return err
	}
	row := store.Sending{
		Invoice: d.ID, Kind: store.SelfBilledLetter, Way: store.ByMail, Recipient: contact.Mail, By: w.Actor.ID, At: w.Instant(), State: store.SendingWaiting,
	}
	row.Subject, row.Text = words.SelfBilledMail(d.Invoice)
	row.Mail, err = w.MakeMail("self-billed-"+d.SupplierNumber, contact.Mail, row.Subject, row.Text, []eml.File{
		{Name: d.SupplierNumber + ".pdf", MediaType: pdf.MediaType, Content: paper},
		{Name: d.SupplierNumber + ".xml", MediaType: "application/xml", Content: file},
	})
	if err != nil {
		return err
	}
	d.Mailed = true
	return w.AddSending(row)
}

// evening is the hour, in the company's zone, from which what is planned for a day is written.
const evening = 18

// SelfBillPlanned writes what is planned to be written by itself, once for each planned day: up to its last one that has come
// where Lagoon did not run meanwhile. What would not be verified is left out, and is a clerk's turn.
func SelfBillPlanned(ctx context.Context, a *act.App) error {
	due, err := act.Read(ctx, a, func(r act.Reading) (due []SelfBillEntry, err error) {
		codes, err := r.SelfBillers()
		for _, code := range codes {
			entry, _, wrong := planned(r, code)
			if err = errors.Join(err, wrong); entry.Until != "" {
				due = append(due, entry)
			}
		}
		return due, err
	})
	if err != nil {
		return err
	}
	for _, entry := range due {
		_, err := act.Perform(ctx, a, act.SelfBill, act.Command{Actor: act.Lagoon, Cause: "planned"}, func(w *act.Work) (none struct{}, err error) {
			now, supplier, err := planned(w.Reading, entry.Supplier)
			if err != nil || now != entry { // meanwhile
				return none, err
			}
			all, err := billSelf(w.Reading, entry, func(d *selfBilling, s trade.Supplier, agreed trade.SelfBilling) error { return d.make(w, s, agreed) })
			if err != nil {
				return none, err
			}
			left := slices.DeleteFunc(slices.Clone(all.Left), func(l NotBilled) bool { return l.Why == selfbill.Later })
			return none, errors.Join(w.AddSelfBillingRun(supplier, entry.Until, len(all.Made), len(left), w.Instant()),
				w.RecordAs("company", "self-billing", nil, struct {
					SelfBillEntry
					Documents int
				}{entry, len(all.Made)}))
		})
		if err != nil {
			return err
		}
		a.Posted.Ring()
	}
	return nil
}

// planned is what is due to be written by itself of a supplier, with its row key; without a day where nothing is.
func planned(r act.Reading, code string) (entry SelfBillEntry, supplier int64, err error) {
	s, err := r.SupplierByCode(code)
	if err != nil {
		return entry, 0, err
	}
	agreed, err := r.SelfBilling(s.ID)
	if err != nil {
		return entry, 0, err
	}
	upTo := r.Today()
	if r.At.In(r.Zone).Hour() < evening {
		upTo = upTo.Add(-1)
	}
	last, _, err := r.LastSelfBillingRun(s.ID)
	if on := agreed.PlannedOn(upTo); on > last {
		entry = SelfBillEntry{Supplier: code, Until: on}
	}
	return entry, s.ID, err
}
