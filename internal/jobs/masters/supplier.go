// Package masters is what the work stands on: suppliers, items, limits, budgets, rates, kinds of
// charge, the company and its periods.
package masters

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/naming"
	"lagoon/internal/core/trade"
	"lagoon/internal/format/eml"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

// SupplierEntry is a supplier as it is entered. Version is the one that was seen; zero
// makes a new one.
type SupplierEntry struct {
	trade.Supplier
	PayToCode string
	// Limits are those that stand; they and the match level are changed by SetLimits. Nil says nothing of them.
	Limits    limit.Entries
	Addresses []store.Address // all of them; others end
	// Accounts in Supplier are all further ones: others end, new ones are confirmed by somebody else. Nil leaves them.
	AccountReason string  // why the bank account changed
	Group         *string // the name of its group, empty: none; nil leaves it
	OnTheFly      bool    // only the least is known
}

// Saved answers the jobs on masters: the code, and the version it has now.
type Saved struct {
	Code    string
	Version int64
}

// SaveSupplier makes a supplier, or changes it.
func SaveSupplier(ctx context.Context, a *act.App, c act.Command, entry SupplierEntry) (Saved, error) {
	return act.Perform(ctx, a, act.SaveSupplier, c, func(w *act.Work) (Saved, error) { return PutSupplier(w, entry) })
}

// PutSupplier writes a supplier with its addresses and accounts.
func PutSupplier(w *act.Work, entry SupplierEntry) (Saved, error) {
	s := entry.Supplier
	s.Name, s.IBAN, s.BIC, s.TaxID = strings.TrimSpace(
		s.Name,
	), trade.PlainIBAN(
		s.IBAN,
	), trade.PlainIBAN(
		s.BIC,
	), strings.TrimSpace(
		s.TaxID,
	)
	s.Country, s.Language, s.Code = strings.ToUpper(
		strings.TrimSpace(s.Country),
	), strings.ToLower(
		strings.TrimSpace(s.Language),
	), strings.ToUpper(
		strings.TrimSpace(s.Code),
	)
	if entry.OnTheFly && s.Code == "" {
		code, err := freeCode(w.Reading, s.Name)
		if err != nil {
			return Saved{}, err
		}
		s.Code = code
	}
	before, err := w.SupplierByCode(s.Code)
	switch {
	case err == nil && entry.Version == 0:
		return Saved{}, fault.New(fault.Duplicate, "code", "The code %s belongs to %s already.", s.Code, before.Name)
	case errors.Is(err, store.ErrNone) && entry.Version != 0:
		return Saved{}, fault.New(fault.NotFound, "code", "There is no supplier %s.", s.Code)
	case err != nil && !errors.Is(err, store.ErrNone):
		return Saved{}, err
	}
	if err := w.ChangedAs("supplier", s.Code, entry.Version, before.Version); err != nil {
		return Saved{}, err
	}
	if before.Accounts, err = w.Accounts(before.ID); err != nil {
		return Saved{}, err
	}
	s.ID, s.Holds, s.Version, s.AccountBy, s.Incomplete = before.ID, before.Holds, before.Version, before.AccountBy, entry.OnTheFly
	s.Accounts = accountsAfter(before.Accounts, s.Accounts, w.Actor.ID)
	if err := checkSupplier(w, &s, entry, before); err != nil {
		return Saved{}, err
	}
	if err := keepsLimits(w, store.LimitRule{Supplier: before.ID}, before.Level, entry.Limits, s.Level); err != nil {
		return Saved{}, err
	}
	moved, payee := s.IBAN != before.IBAN || s.BIC != before.BIC, s.PayTo != before.PayTo
	if (moved || payee) && before.AccountBy != 0 && before.AccountBy != w.Actor.ID {
		name, err := w.NameOf(before.AccountBy)
		return Saved{}, errors.Join(
			err,
			fault.New(
				fault.Refused,
				"iban",
				"%s changed who is paid, or where, and that waits to be confirmed. Confirm it first, or have it taken back.",
				name,
			),
		)
	}
	if payee || (moved && !knownAccount(before, s.IBAN, s.BIC)) {
		s.AccountBy = w.Actor.ID
	}
	if s.ID, err = w.PutSupplier(s); err != nil {
		return Saved{}, err
	}
	if entry.Group != nil {
		if err := join(w, &s, strings.TrimSpace(*entry.Group), before.ID == 0); err != nil {
			return Saved{}, err
		}
	}
	if s.Level != before.Level { // out of a table, or as its group proposes
		if err := own(w, limitsAt{LimitRule: store.LimitRule{Supplier: s.ID}}, store.LimitOwner{Kind: limit.MatchLevel}); err != nil {
			return Saved{}, err
		}
	}
	decided := store.SupplierDecision{
		Supplier: s.ID,
		Reason:   strings.TrimSpace(entry.AccountReason),
		By:       w.Actor.ID,
		At:       w.Instant(),
	}
	if moved {
		decided.What, decided.Was, decided.Becomes = store.AccountDecision, before.IBAN, s.IBAN
		if before.IBAN == s.IBAN {
			decided.Was, decided.Becomes = account(before.IBAN, before.BIC), account(s.IBAN, s.BIC)
		}
		if err := w.AddSupplierDecision(decided); err != nil {
			return Saved{}, err
		}
	}
	if payee {
		decided.What, decided.Becomes = store.PayeeDecision, entry.PayToCode
		if decided.Was, err = codeOf(w.Reading, before.PayTo); err != nil {
			return Saved{}, err
		}
		if err := w.AddSupplierDecision(decided); err != nil {
			return Saved{}, err
		}
	}
	if err := putAccounts(w, s, before.Accounts, entry.AccountReason); err != nil {
		return Saved{}, err
	}
	if before.Name != s.Name {
		if err := w.MakeFindableAs(s.Name+" "+s.Code, store.Found{Kind: "supplier", Number: s.Code, Label: s.Name}); err != nil {
			return Saved{}, err
		}
	}
	if err := putAddresses(w, s.ID, entry); err != nil {
		return Saved{}, err
	}
	unknown, err := w.UnsettledUnknown() // some may be this one's
	return Saved{
			s.Code,
			s.Version + 1,
		}, errors.Join(
			err,
			w.WakeEach(unknown, "supplier "+s.Code+" changed"),
			wakeSupplier(w, s.ID, "supplier "+s.Code+" changed"),
			w.RecordAs("supplier", s.Code, before, struct {
				trade.Supplier
				Group *string `json:",omitempty"`
			}{s, entry.Group}),
		)
}

// knownAccount tells whether a supplier's account was confirmed already as a further one,
// at the same bank.
func knownAccount(s trade.Supplier, iban, bic string) bool {
	return slices.ContainsFunc(
		s.Accounts,
		func(a trade.BankAccount) bool { return a.IBAN == iban && a.BIC == bic && a.By == 0 && !a.Ended },
	)
}

// codeOf is the code of a supplier by row key; of none it is empty.
func codeOf(r act.Reading, supplier int64) (string, error) {
	if supplier == 0 {
		return "", nil
	}
	s, err := r.Supplier(supplier)
	return s.Code, err
}

// freeCode makes a code of the letters of a name.
func freeCode(r act.Reading, name string) (string, error) {
	base := ""
	for _, c := range strings.ToUpper(name) {
		if c >= 'A' && c <= 'Z' && len(base) < 5 {
			base += string(c)
		}
	}
	if base == "" {
		base = "NEW"
	}
	for n := 1; ; n++ {
		code := base
		if n > 1 {
			code = fmt.Sprintf("%s%d", base, n)
		}
		if _, err := r.SupplierByCode(code); errors.Is(err, store.ErrNone) {
			return code, nil
		} else if err != nil {
			return "", err
		}
	}
}

func checkSupplier(w *act.Work, s *trade.Supplier, entry SupplierEntry, before trade.Supplier) error {
	var faults fault.Faults
	need := func(good bool, field, sentence string, operands ...any) {
		if !good {
			faults = append(faults, fault.New(fault.Invalid, field, sentence, operands...))
		}
	}
	need(
		s.Code != "" && !strings.ContainsAny(s.Code, " \t/"),
		"code",
		"Enter a code without spaces; it stays with the supplier.",
	)
	need(s.Name != "", "name", "Enter the supplier's name.")
	need(len(s.Country) == 2, "country", "Enter the country as two letters of ISO 3166, such as IE.")
	need(s.Currency.Known(), "currency", "Enter a currency of ISO 4217, such as EUR.")
	need(
		before.ID == 0 || s.Currency == before.Currency,
		"currency",
		"The currency of a supplier stays: orders and invoices are in it.",
	)
	need(s.IBAN == "" || trade.ValidIBAN(s.IBAN), "iban", badIBAN)
	need(s.BIC == "" || trade.ValidBIC(s.BIC), "bic", badBIC)
	faults.Add(naming.Check(s.Code, "code"), naming.Check(s.Name, "name"))
	news := s.IBAN != "" && (s.IBAN != before.IBAN || s.BIC != before.BIC)
	for i, a := range entry.Accounts {
		field := fmt.Sprintf("accounts[%d].", i)
		need(trade.ValidIBAN(trade.PlainIBAN(a.IBAN)), field+"iban", badIBAN)
		need(a.BIC == "" || trade.ValidBIC(trade.PlainIBAN(a.BIC)), field+"bic", badBIC)
	}
	for _, a := range s.Accounts {
		news = news || a.No > len(before.Accounts) || a.BIC != before.Accounts[a.No-1].BIC
	}
	need(s.LeastOrder >= 0, "leastOrder", "A minimum order value cannot be below zero.")
	need(s.FreeFrom >= 0, "freeFrom", "A threshold cannot be below zero.")
	var terms fault.Faults
	if errors.As(s.Terms.Check(), &terms) {
		faults = append(faults, terms...)
	}
	if !entry.OnTheFly {
		need(
			s.TaxID != "" || s.Untaxed,
			"taxId",
			"Enter the tax number, or say that the supplier is not registered for tax.",
		)
		standing := slices.ContainsFunc(
			entry.Addresses,
			func(a store.Address) bool { return !a.Ended && a.Street+a.City != "" },
		)
		need(standing, "addresses", "Enter an address.")
	}
	if s.Budget != "" {
		known, err := w.HasBudget(s.Budget)
		if err != nil {
			return err
		}
		need(known, "budget", "There is no budget %s.", s.Budget)
	}
	if known, err := w.TaxKnown(s.Tax); err != nil {
		return err
	} else if !known {
		need(false, "taxCode", "There is no tax code %s under Budgets and books.", s.Tax)
	}
	s.PayTo = 0
	if entry.PayToCode != "" {
		payee, err := w.SupplierByCode(entry.PayToCode)
		if err != nil && !errors.Is(err, store.ErrNone) {
			return err
		}
		need(
			err == nil && payee.ID != s.ID && payee.PayTo == 0,
			"payTo",
			"%s cannot be paid in its place.",
			entry.PayToCode,
		)
		s.PayTo = payee.ID
		through, err := w.PaidThrough(s.ID)
		if err != nil && !errors.Is(err, store.ErrNone) {
			return err
		}
		need(
			through == "" || s.ID == 0,
			"payTo",
			"It is paid in the place of %s, so nobody is paid in its own.",
			through,
		)
	}
	news = news || s.PayTo != before.PayTo
	need(!news || before.ID == 0 || strings.TrimSpace(entry.AccountReason) != "", "accountReason",
		"Say how the new bank account was checked; a second person confirms it.")
	return faults.OrNil()
}

func putAddresses(w *act.Work, supplier int64, entry SupplierEntry) error {
	if entry.Addresses == nil {
		return nil
	}
	before, err := w.Addresses(supplier)
	if err != nil {
		return err
	}
	for i, a := range entry.Addresses {
		a.No = i + 1
		if err := w.PutAddress(supplier, a); err != nil {
			return err
		}
	}
	for _, a := range before {
		if a.No > len(entry.Addresses) && !a.Ended {
			a.Ended = true
			if err := w.PutAddress(supplier, a); err != nil {
				return err
			}
		}
	}
	return nil
}

// wakeSupplier matches a supplier's open invoices again.
func wakeSupplier(w *act.Work, supplier int64, cause string) error {
	open, err := w.UnsettledOf(supplier)
	if err != nil {
		return err
	}
	return w.WakeEach(open, cause)
}

// HoldEntry puts a hold on a supplier, or lifts it.
type HoldEntry struct {
	Code   string
	Hold   trade.SupplierHold
	Lift   bool
	Reason string
}

// HoldSupplier puts a hold on a supplier or lifts one, with a reason. Open invoices feel it at once.
func HoldSupplier(ctx context.Context, a *act.App, c act.Command, e HoldEntry) (Saved, error) {
	return act.Perform(ctx, a, act.HoldSupplier, c, func(w *act.Work) (Saved, error) {
		s, err := w.SupplierByCode(e.Code)
		if err != nil {
			return Saved{}, act.Found(err, "There is no supplier %s.", e.Code)
		}
		before, words := s, say.State(string(e.Hold))
		decision := store.SupplierDecision{
			Supplier: s.ID,
			What:     store.HoldDecision,
			Reason:   strings.TrimSpace(e.Reason),
			By:       w.Actor.ID,
			At:       w.Instant(),
		}
		switch {
		case !slices.Contains(trade.SupplierHolds[:], e.Hold):
			return Saved{}, fault.New(fault.Invalid, "hold", "“%s” is no hold on a supplier.", e.Hold)
		case decision.Reason == "":
			return Saved{}, fault.New(fault.Invalid, "reason", "Say why; whoever meets it reads that.")
		case e.Lift && !s.Holds.Has(e.Hold):
			return Saved{}, fault.New(fault.Refused, "hold", "%s is not %s.", s.Name, words)
		case !e.Lift && s.Holds.Has(e.Hold):
			return Saved{}, fault.New(fault.Refused, "hold", "%s is %s already.", s.Name, words)
		case e.Lift:
			s.Holds, decision.Was, words = s.Holds.Without(e.Hold), string(e.Hold), "no longer "+words
		default:
			s.Holds, decision.Becomes = s.Holds.With(e.Hold), string(e.Hold)
		}
		if _, err := w.PutSupplier(s); err != nil {
			return Saved{}, err
		}
		return Saved{s.Code, s.Version + 1}, errors.Join(
			w.AddSupplierDecision(decision),
			wakeSupplier(w, s.ID, fmt.Sprintf("supplier %s is %s", s.Code, words)),
			w.RecordAs("supplier", s.Code, before, s),
		)
	})
}

// SaveContact writes a contact and what it does for a supplier.
func SaveContact(ctx context.Context, a *act.App, c act.Command, code string, contact store.Contact) (Saved, error) {
	return act.Perform(ctx, a, act.SaveContact, c, func(w *act.Work) (Saved, error) {
		s, err := w.SupplierByCode(code)
		if err != nil {
			return Saved{}, act.Found(err, "There is no supplier %s.", code)
		}
		var faults fault.Faults
		if contact.Name = strings.TrimSpace(contact.Name); contact.Name == "" {
			faults = append(faults, fault.New(fault.Invalid, "name", "Enter the contact's name."))
		} else if no := naming.Check(contact.Name, "name"); no != nil {
			faults = append(faults, no)
		}
		if contact.Mail != "" {
			if contact.Mail, err = eml.Address(contact.Mail, "mail"); err != nil {
				faults = append(faults, fault.New(fault.Invalid, "mail", "%s", err.Error()))
			}
		}
		if contact.Mail+strings.TrimSpace(contact.Phone) == "" {
			faults = append(faults, fault.New(fault.Invalid, "mail", "Enter a mail address or a telephone number."))
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		if contact.Number != 0 {
			if known, err := w.IsContact(contact.Number); err != nil {
				return Saved{}, err
			} else if !known {
				return Saved{}, fault.New(fault.NotFound, "number", "There is no contact %d.", contact.Number)
			}
		}
		number, err := w.PutContact(contact, s.ID)
		return Saved{fmt.Sprint(number), s.Version}, errors.Join(err, w.RecordAs("supplier", code, nil, contact))
	})
}

// NoteKinds are the kinds of notes on suppliers.
var NoteKinds = []string{"general", "delivery", "quality", "price", "payment"}

// Stages are where a note on a supplier can be shown.
var Stages = []string{"orders", "receiving", "invoices", "payments"}

// SaveNote writes a note on a supplier; number zero makes a new one.
func SaveNote(ctx context.Context, a *act.App, c act.Command, code string, note store.SupplierNote) (Saved, error) {
	return act.Perform(ctx, a, act.SaveNote, c, func(w *act.Work) (Saved, error) {
		s, err := w.SupplierByCode(code)
		if err != nil {
			return Saved{}, act.Found(err, "There is no supplier %s.", code)
		}
		var faults fault.Faults
		if note.Text = strings.TrimSpace(note.Text); note.Text == "" {
			faults = append(faults, fault.New(fault.Invalid, "text", "Write what is to be known."))
		}
		if !slices.Contains(NoteKinds, note.Kind) {
			faults = append(faults, fault.New(fault.Invalid, "kind", "Choose a kind."))
		}
		if len(note.Stages) == 0 ||
			slices.ContainsFunc(note.Stages, func(x string) bool { return !slices.Contains(Stages, x) }) {
			faults = append(faults, fault.New(fault.Invalid, "stages", "Choose where the note is shown."))
		}
		for _, d := range []day.Day{note.From, note.Until} {
			if _, err := day.Parse(string(d)); d != "" && err != nil {
				faults = append(faults, fault.New(fault.Invalid, "until", "“%s” is no day.", d))
			}
		}
		if note.Until != "" && note.Until < note.From {
			faults = append(faults, fault.New(fault.Invalid, "until", "The note ends before it begins."))
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		all, err := w.SupplierNotes(s.ID)
		if err != nil {
			return Saved{}, err
		}
		if note.No == 0 {
			note.No = len(all) + 1
		} else if note.No > len(all) {
			return Saved{}, fault.New(fault.NotFound, "", "There is no note %d.", note.No)
		}
		note.By, note.At = w.Actor.ID, w.Instant()
		return Saved{
				fmt.Sprint(note.No),
				s.Version,
			}, errors.Join(
				w.PutSupplierNote(s.ID, note),
				w.RecordAs("supplier", code, nil, note),
			)
	})
}

// PriceEntry is an agreed price to write; Ended takes it away.
type PriceEntry struct {
	Supplier, Item string
	trade.AgreedPrice
	Ended bool
}

// SavePrice writes an agreed price.
func SavePrice(ctx context.Context, a *act.App, c act.Command, entry PriceEntry) (Saved, error) {
	return act.Perform(ctx, a, act.SavePrice, c, func(w *act.Work) (Saved, error) {
		s, err := w.SupplierByCode(entry.Supplier)
		if err != nil {
			return Saved{}, act.Found(err, "There is no supplier %s.", entry.Supplier)
		}
		item, err := w.ItemNamed(entry.Item, s.ID)
		if err != nil {
			return Saved{}, act.Found(err, "There is no item %s.", entry.Item)
		}
		var faults fault.Faults
		if _, err := day.Parse(string(entry.From)); err != nil {
			faults = append(faults, fault.New(fault.Invalid, "from", "Enter the day from which the price holds."))
		}
		if _, err := day.Parse(string(entry.Until)); entry.Until != "" && (err != nil || entry.Until < entry.From) {
			faults = append(faults, fault.New(fault.Invalid, "until", "The last day is no day, or before the first."))
		}
		if entry.Price < 0 || entry.Base < 0 || entry.Least < 0 {
			faults = append(faults, fault.New(fault.Invalid, "price", "Price and quantities cannot be below zero."))
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		return Saved{
				entry.Item,
				s.Version,
			}, errors.Join(
				w.PutPrice(s.ID, item.ID, entry.AgreedPrice, entry.Ended),
				w.RecordAs("supplier", s.Code, nil, entry),
			)
	})
}

// StandingEntry is what a supplier always charges of a kind; neither per cent nor amount: no more.
type StandingEntry struct {
	Supplier string // code
	Kind     string
	Percent  money.Decimal
	Amount   money.Entered // in the supplier's currency
}

// SaveStandingCharge writes what a supplier always charges.
func SaveStandingCharge(ctx context.Context, a *act.App, c act.Command, entry StandingEntry) (Saved, error) {
	return act.Perform(ctx, a, act.SaveStanding, c, func(w *act.Work) (Saved, error) {
		s, err := w.SupplierByCode(entry.Supplier)
		if err != nil {
			return Saved{}, act.Found(err, "There is no supplier %s.", entry.Supplier)
		}
		kinds, err := w.ChargeKinds()
		if err != nil {
			return Saved{}, err
		}
		amounts := act.Amounts{Currency: s.Currency}
		charge := trade.StandingCharge{Kind: entry.Kind, Percent: entry.Percent, Amount: amounts.Of(entry.Amount, "amount", "The amount")}
		faults := amounts.Faults
		if no := act.Offered(kinds, entry.Kind, "kind"); no != nil && entry.Kind != trade.StandingDiscount {
			faults = append(faults, no)
		}
		switch {
		case entry.Kind == trade.StandingDiscount && charge.Percent > money.Int(100):
			faults = append(faults, fault.New(fault.Invalid, "percent", "A discount is at most all of it: 100 per cent."))
		case charge.Percent < 0 || charge.Amount < 0:
			faults = append(faults, fault.New(fault.Invalid, "amount", "A charge cannot be below zero."))
		case charge.Percent > 0 && charge.Amount > 0:
			faults = append(faults, fault.New(fault.Invalid, "amount", "Enter per cent of the goods or an amount, not both."))
		}
		if err := faults.OrNil(); err != nil {
			return Saved{}, err
		}
		return Saved{s.Code, s.Version}, errors.Join(
			w.PutStandingCharge(s.ID, charge),
			w.RecordAs("supplier", s.Code, nil, struct{ Standing trade.StandingCharge }{charge}),
		)
	})
}

// SupplierSheet is a supplier with all that is kept of it.
type SupplierSheet struct {
	trade.Supplier
	Group     string
	PayToCode string
	// AccountNames are the people who entered accounts that nobody else has confirmed.
	AccountNames map[int64]string
	Also         []string // other suppliers that its account belongs to
	Rejected     string   // what the bank said of the last payment to its account, until somebody confirms that
	Owners       []Owner  // who changed its limits, and nobody else has confirmed it
	Addresses    []store.Address
	Contacts     []store.Contact
	Others       []store.Contact // of other suppliers
	MoreOthers   int64           // than are given
	Notes        []store.SupplierNote
	Prices       []store.ItemPrice
	Standing     []trade.StandingCharge
	Invoicers    []store.Invoicer
	Codes        []store.SupplierCode
	Papers       []store.PaperRule // what was learned of its papers
	OtherNames   []string          // that it goes by
	Limits       []store.LimitRule
	Decisions    []store.SupplierDecision
	Company      money.Currency // of the limits
	// OpenOrders and OpenInvoices are what goes on to its end where the supplier is ended.
	OpenOrders, OpenInvoices int64
	Mails                    []store.Mail // that were filed under it, the last first
	SelfBilling              trade.SelfBilling
	BilledNow                bool    // it is in force
	BilledUpTo               day.Day // up to which they were written by themselves last; empty: never
}

// ReadSupplier reads a supplier.
func ReadSupplier(ctx context.Context, a *act.App, code string) (SupplierSheet, error) {
	return act.Read(ctx, a, func(r act.Reading) (s SupplierSheet, err error) {
		if s.Supplier, err = r.SupplierByCode(code); err != nil {
			return s, act.Found(err, "There is no supplier %s.", code)
		}
		if s.PayTo != 0 {
			payee, err := r.Supplier(s.PayTo)
			if err != nil {
				return s, err
			}
			s.PayToCode = payee.Code
		}
		if s.Accounts, err = r.Accounts(s.ID); err != nil {
			return s, err
		}
		s.Accounts = slices.DeleteFunc(s.Accounts, func(a trade.BankAccount) bool { return a.Ended })
		group, err := r.GroupOf(s.ID)
		if err != nil && !errors.Is(err, store.ErrNone) {
			return s, err
		}
		s.Group = group.Name
		s.AccountNames = map[int64]string{}
		if s.Also, err = r.AlsoPaid(s.IBAN, s.ID); err != nil {
			return s, err
		}
		if s.PayTo == 0 {
			if s.Rejected, err = r.RejectedTo(s.ID, s.IBAN); err != nil {
				return s, err
			}
		}
		if s.Owners, err = ownersOf(r, store.LimitRule{Supplier: s.ID}); err != nil {
			return s, err
		}
		for _, a := range append([]trade.BankAccount{{By: s.AccountBy}}, s.Accounts...) {
			if a.By != 0 {
				if s.AccountNames[a.By], err = r.NameOf(a.By); err != nil {
					return s, err
				}
			}
		}
		addresses, err1 := r.Addresses(s.ID)
		s.Addresses = slices.DeleteFunc(addresses, func(a store.Address) bool { return a.Ended })
		contacts, err2 := r.ContactsOf(s.ID)
		s.Contacts = contacts
		all, err3 := r.AllContacts()
		s.MoreOthers = r.LeftOut()
		s.Others = slices.DeleteFunc(all, func(c store.Contact) bool {
			return slices.ContainsFunc(contacts, func(own store.Contact) bool { return own.Number == c.Number })
		})
		notes, err4 := r.SupplierNotes(s.ID)
		s.Notes = slices.DeleteFunc(notes, func(n store.SupplierNote) bool { return n.Ended })
		var err5, err6, err7 error
		s.Prices, err5 = r.PricesOf(s.ID)
		s.Company = r.Ours.Currency
		if s.Codes, err = r.CodesOf(s.ID); err != nil {
			return s, err
		}
		if s.Papers, err = r.PaperRules(s.ID); err != nil {
			return s, err
		}
		if s.OtherNames, err = r.OtherNames(s.ID); err != nil {
			return s, err
		}
		if s.SelfBilling, err = r.SelfBilling(s.ID); err != nil {
			return s, err
		}
		s.BilledNow = s.SelfBilling.On(r.Today())
		if s.BilledUpTo, _, err = r.LastSelfBillingRun(s.ID); err != nil {
			return s, err
		}
		if s.Invoicers, err = r.InvoicersOf(s.ID); err != nil {
			return s, err
		}
		if s.Standing, err = r.StandingCharges(s.ID); err != nil {
			return s, err
		}
		if s.OpenOrders, s.OpenInvoices, err = r.OpenOf(s.ID); err != nil {
			return s, err
		}
		if s.Mails, err = r.MailsOfSupplier(s.ID); err != nil {
			return s, err
		}
		s.Limits, err6 = r.LimitsAt(store.LimitRule{Supplier: s.ID})
		s.Decisions, err7 = r.SupplierDecisions(s.ID)
		return s, errors.Join(err1, err2, err3, err4, err5, err6, err7)
	})
}

// NotesFor are the notes on a supplier that are shown in a stage today.
func NotesFor(ctx context.Context, a *act.App, code, stage string) ([]store.SupplierNote, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]store.SupplierNote, error) {
		s, err := r.SupplierByCode(code)
		if err != nil {
			return nil, act.Found(err, "There is no supplier %s.", code)
		}
		return r.NotesFor(s.ID, stage)
	})
}
