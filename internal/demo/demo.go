package demo

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/invoices"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/people"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/outside/bank"
	"lagoon/internal/outside/outbox"
	"lagoon/internal/store"
)

// Bank is the simulated bank of the demo, in a folder: it believes an account closed, and has a rate of its own for dollars.
func Bank(folder string, now func() time.Time) bank.Simulated {
	return bank.Simulated{
		Folder: folder, Now: now, Closed: []string{sellerOf("PELLW").IBAN}, Opening: 445_000_00,
		Rates: map[money.Currency]money.Decimal{"USD": money.MustDecimal("0.918")},
	}
}

type builder struct {
	ctx      context.Context
	app      *act.App
	today    day.Day // of the demo
	now      time.Time
	actors   map[string]act.Actor
	random   *rand.Rand
	bank     bank.Simulated
	post     string // folder for files that are not imported yet
	steps    []step
	minute   int
	bills    int
	sent     int  // mails
	cautious bool // two persons look at every run
	batched  bool // an invoice came of a batch
	words    printedWords
	faxed    *int64 // mail with the invoice that came by fax
}

// step is something that happens at an hour of a day that is some days from today.
type step struct {
	day, hour int
	do        func() error
}

// on plans a step.
func (b *builder) on(day, hour int, do func() error) {
	b.steps = append(b.steps, step{day, hour, do})
}

// play does everything that is planned, in the order of time.
func (b *builder) play() error {
	slices.SortStableFunc(
		b.steps,
		func(x, y step) int { return cmp.Or(cmp.Compare(x.day, y.day), cmp.Compare(x.hour, y.hour)) },
	)
	for _, s := range b.steps {
		b.at(s.day, s.hour)
		if err := s.do(); err != nil {
			return fmt.Errorf("demo: day %d, %d o'clock: %w", s.day, s.hour, err)
		}
		if err := invoices.Drain(b.ctx, b.app); err != nil {
			return err
		}
	}
	return nil
}

// Build makes the demo's data in an empty store, as of now. Files that the story
// takes in are written to the folder post; folder is the simulated bank's.
func Build(ctx context.Context, s *store.Store, now time.Time, post, folder string) error {
	zone, err := time.LoadLocation(company.Zone)
	if err != nil {
		return err
	}
	b := &builder{
		ctx:    ctx,
		today:  day.Of(now, zone),
		actors: map[string]act.Actor{},
		random: rand.New(rand.NewPCG(7, 11)),
		post:   post,
		words:  printedWords{},
	}
	clock := func() time.Time { return b.now }
	b.bank = Bank(folder, clock)
	b.app = act.New(
		s,
		act.Options{
			Now:             clock,
			Bank:            b.bank,
			Words:           b.words,
			Outbox:          outbox.Folder{Path: filepath.Join(filepath.Dir(folder), "outbox")},
			PublicPasswords: true, // the one that the sign-in page shows
		},
	)
	b.at(-380, 9)
	if _, err := people.Found(ctx, b.app, people.Founding{Company: company, First: people.Entry{Login: "rhea", Name: "Rhea Holm", About: "sets Lagoon up", Password: Password}}); err != nil {
		return err
	}
	if err := os.MkdirAll(post, 0o755); err != nil {
		return err
	}
	if err := b.people(); err != nil {
		return err
	}
	if err := masters.Masters(ctx, b.app, b.as("rhea"), "suppliers, items, limits", b.masters); err != nil {
		return err
	}
	b.on(-3, 16, func() error { // away next week
		_, err := people.NameSubstitute(
			b.ctx,
			b.app,
			b.as("ada"),
			people.SubstituteEntry{Login: "ivo", From: b.today.Add(7), Until: b.today.Add(13)},
		)
		return err
	})
	b.on(-2, 15, func() error { // waits for somebody else to confirm it
		_, err := masters.SetLimits(
			b.ctx,
			b.app,
			b.as("ivo"),
			masters.LimitsEntry{
				Supplier: "SALTM",
				Limits:   limit.Entries{{Kind: limit.Delivery, Side: limit.Over, Percent: percent(8)}},
				Reason:   "They pack by the layer.",
			},
		)
		return err
	})
	b.on(-1, 16, func() error { // tried, and left
		_, err := masters.KeepTrial(b.ctx, b.app, b.as("ada"), masters.AdoptEntry{
			TrialEntry: masters.TrialEntry{
				PlaceEntry: masters.PlaceEntry{Supplier: "BRACK"}, Limit: limit.Entry{Kind: limit.UnitPrice, Side: limit.Over, Percent: percent(5)},
			},
			Reason: "One invoice a year more is not worth it.",
		})
		return err
	})
	b.mailbox(filepath.Join(filepath.Dir(folder), "mailbox"))
	b.history()
	b.morning()
	b.buying()
	b.landings()
	return b.play()
}

// at sets the clock to an hour of the day that is n days from today, each time a
// little later in the hour.
func (b *builder) at(n, hour int) {
	t := b.today.Add(n).Time()
	zone, _ := time.LoadLocation(company.Zone) // loaded before
	b.minute = (b.minute + 1) % 3000
	b.now = time.Date(t.Year(), t.Month(), t.Day(), hour, b.minute/60%50, b.minute%60, 0, zone)
}

func (b *builder) as(login string) act.Command { return act.Command{Actor: b.actors[login]} }

func (b *builder) people() error {
	var err error
	if b.actors["rhea"], err = b.app.ActorByLogin(b.ctx, "rhea"); err != nil {
		return err
	}
	for _, p := range persons {
		p.Password, p.Lasting = Password, true
		if _, err := people.Add(b.ctx, b.app, b.as("rhea"), p); err != nil {
			return err
		}
		if b.actors[p.Login], err = b.app.ActorByLogin(b.ctx, p.Login); err != nil {
			return err
		}
	}
	if _, err := masters.SaveDebitAccount(b.ctx, b.app, b.as("rhea"), store.DebitAccount{
		IBAN: iban("IE", "HRBR99010087654321"), BIC: "HRBRIE2D", Name: "Harbour Savings",
	}); err != nil {
		return err
	}
	for _, p := range places {
		if _, err := masters.SavePlace(b.ctx, b.app, b.as("rhea"), p); err != nil {
			return err
		}
	}
	return nil
}

// part is one line of a demo order.
type part struct{ item, quantity string }

// order plans an order on day n; its number is known once it is issued.
func (b *builder) order(n, wanted int, seller, by, place string, parts ...part) *int64 {
	entry := orders.Entry{Supplier: seller, WantedOn: b.today.Add(wanted), RequestedBy: by, Place: place}
	for _, p := range parts {
		g := goodOf(p.item)
		entry.Lines = append(
			entry.Lines,
			orders.EntryLine{
				Item:        p.item,
				Quantity:    money.MustDecimal(p.quantity),
				Price:       money.MustDecimal(g.price),
				TaxCategory: category(g.rate),
				TaxRate:     money.Int(g.rate),
				TaxCode:     g.Tax,
				Budget:      g.budget,
			},
		)
	}
	return b.issue(n, entry)
}

func (b *builder) issue(n int, entry orders.Entry) *int64 {
	number := new(int64)
	b.on(n, 7, func() error {
		issued, err := orders.Issue(b.ctx, b.app, b.as("ivo"), entry)
		*number = issued.Number
		return err
	})
	return number
}

// category is the UNCL 5305 code: standard rate, or zero rated.
func category(rate int64) string {
	if rate == 0 {
		return "Z"
	}
	return "S"
}

// free plans an order of one line that is described and not an item.
func (b *builder) free(n, wanted int, seller, description, unit, quantity, price, budget string) *int64 {
	return b.issue(
		n,
		orders.Entry{
			Supplier:    seller,
			WantedOn:    b.today.Add(wanted),
			RequestedBy: "I. Sandell, Exhibits",
			Place:       "Workshop",
			Lines: []orders.EntryLine{
				{
					Description: description,
					Unit:        unit,
					Quantity:    money.MustDecimal(quantity),
					Price:       money.MustDecimal(price),
					TaxCategory: category(0),
					Budget:      budget,
				},
			},
		},
	)
}

// counted is one line of a demo delivery; a quantity that ends in "!" closes the line.
type counted map[int]string

func (b *builder) deliver(n int, order *int64, note string, lines counted) {
	b.on(n, 8, func() error {
		entry := receiving.DeliveryEntry{
			Order: *order,
			Entry: receive.Entry{Note: note, Day: b.today.Add(n), Place: "Cold store"},
		}
		for _, no := range slices.Sorted(maps.Keys(lines)) {
			text, closes := strings.CutSuffix(lines[no], "!")
			entry.Lines = append(entry.Lines, receive.Line{No: no, Quantity: money.MustDecimal(text), Close: closes})
		}
		_, err := receiving.BookDelivery(b.ctx, b.app, b.as("lewis"), entry)
		return err
	})
}

// bill is an invoice that a demo supplier sends.
type bill struct {
	seller, number string
	on             *int64 // the order that it names
	order          string // or what it says instead
	date           int
	lines          []trade.InvoiceLine
	freight        string
	account        string       // other than the supplier's own
	name           string       // other than the supplier's own
	wrong          money.Amount // added to the stated total
	cii            bool         // in the cross industry form
	credits        string       // of a credit note: the number of the invoice that it names
	to             string       // addressed to somebody else
	notes          []string     // the delivery notes that it names
}

// item is an invoice line at the order's price, or at another.
func item(no int, code, quantity string, price ...string) trade.InvoiceLine {
	g := goodOf(code)
	return trade.InvoiceLine{
		No:           no,
		OrderLineRef: fmt.Sprint(no),
		SupplierCode: g.code,
		Description:  g.Name,
		Quantity:     money.MustDecimal(quantity),
		Unit:         g.Unit,
		Price:        money.MustDecimal(append(price, g.price)[0]),
		Base:         money.Int(1),
		TaxCategory:  category(g.rate),
		TaxRate:      money.Int(g.rate),
	}
}

func (b *builder) write(x bill) ([]byte, error) {
	if x.on != nil {
		x.order = fmt.Sprint(*x.on)
	}
	s := seller{Supplier: trade.Supplier{Name: x.name, Currency: "EUR", Country: "IE"}, street: "Ferry Street 8"}
	if x.seller != "" {
		s = sellerOf(x.seller)
	}
	inv := trade.Invoice{
		Kind:           trade.PlainInvoice,
		Credited:       x.credits,
		SupplierNumber: x.number,
		Date:           b.today.Add(x.date),
		Currency:       s.Currency,
		SupplierStated: s.Name,
		TaxIDStated:    s.TaxID,
		AddressedTo:    cmp.Or(x.to, "Skerry Point Aquarium"),
		OrderStated:    x.order,
		IBAN:           s.IBAN,
		Lines:          x.lines,
	}
	if x.credits != "" {
		inv.Kind, inv.IBAN = trade.CreditNote, ""
	}
	if x.account != "" {
		inv.IBAN = x.account
	}
	if x.freight != "" {
		amount, err := money.ParseAmount(x.freight, inv.Currency)
		if err != nil {
			return nil, err
		}
		inv.Charges = []trade.DocumentCharge{
			{Kind: "freight", Reason: "Chilled freight", Amount: amount, TaxCategory: "S", TaxRate: money.Int(23)},
		}
	}
	if x.cii {
		return crossIndustry(inv, s.Country)
	}
	return paper(inv, s.street, s.Country, x.wrong, x.notes...)
}

// take plans that the clerk imports an invoice on a day; its number is known then.
func (b *builder) take(n int, x bill) *int64 {
	number := new(int64)
	b.on(n, 9, func() error {
		content, err := b.write(x)
		if err != nil {
			return err
		}
		captured, err := invoices.ImportOne(
			b.ctx,
			b.app,
			b.as("nora"),
			act.File{Name: x.number + ".xml", Content: content},
		)
		*number = captured.Number
		return err
	})
	return number
}

// leave plans that an invoice lies in today's post, for whoever tries the demo.
func (b *builder) leave(name string, x bill) {
	b.on(0, 9, func() error { return b.lay(name, x) })
}

// lay writes an invoice into today's post.
func (b *builder) lay(name string, x bill) error {
	content, err := b.write(x)
	if err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(b.post, name), content, 0o644)
}
