package main

import (
	"context"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/limit"
	"lagoon/internal/core/money"
	"lagoon/internal/core/receive"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/masters"
	"lagoon/internal/jobs/orders"
	"lagoon/internal/jobs/people"
	"lagoon/internal/jobs/receiving"
	"lagoon/internal/store"
)

// world is a company with orders that are received in full and not invoiced yet.
type world struct {
	store  *store.Store
	app    *act.App
	folder string
	people map[string]act.Actor
}

var now = time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)

const (
	today     = day.Day("2026-11-23")
	suppliers = 40
	lines     = 3
	password  = "benchmarks only"
)

// sellers is how many suppliers a world is founded with.
var sellers = suppliers

// opening is how a store is opened: waiting for the disk or not.
type opening func(ctx context.Context, path string) (*store.Store, error)

func openWorld(ctx context.Context, folder string, open opening) (*world, error) {
	s, err := open(ctx, filepath.Join(folder, "lagoon.db"))
	if err != nil {
		return nil, err
	}
	w := &world{
		store:  s,
		app:    appOn(s),
		folder: folder,
		people: map[string]act.Actor{},
	}
	if err := s.Prepare(ctx); err != nil {
		return nil, err
	}
	for _, login := range []string{"admin", "clerk", "receiver", "buyer", "approver", "treasurer"} {
		if actor, err := w.app.ActorByLogin(ctx, login); err == nil {
			w.people[login] = actor
		}
	}
	return w, nil
}

func appOn(s *store.Store) *act.App {
	return act.New(s, act.Options{Now: func() time.Time { return now }})
}

func (w *world) as(login string) act.Command { return act.Command{Actor: w.people[login]} }

// found sets a company up in an empty folder.
func found(ctx context.Context, folder string, open opening) (*world, error) {
	w, err := openWorld(ctx, folder, open)
	if err != nil {
		return nil, err
	}
	if _, err := people.Found(ctx, w.app, people.Founding{Company: store.Company{Name: "Bench House", Currency: "EUR", Zone: "Europe/Dublin", IBAN: "GB82WEST12345698765432", BIC: "WESTGB2L", Level: trade.ThreeWay,
		Policy: trade.Policy{OverDelivery: true, UnderDelivery: true}}, First: people.Entry{Login: "admin", Name: "Ad Min", Password: password}}); err != nil {
		return nil, err
	}
	if w.people["admin"], err = w.app.ActorByLogin(ctx, "admin"); err != nil {
		return nil, err
	}
	for _, role := range []string{"clerk", "receiver", "buyer", "approver", "treasurer"} {
		if _, err := people.Add(ctx, w.app, w.as("admin"), people.Entry{Login: role, Name: role, Password: password, Lasting: true, Roles: []string{role}, Authority: "1000000000"}); err != nil {
			return nil, err
		}
		if w.people[role], err = w.app.ActorByLogin(ctx, role); err != nil {
			return nil, err
		}
	}
	return w, masters.Masters(ctx, w.app, w.as("admin"), "bench", func(tx *store.Tx) error {
		if err := tx.PutBudget("FEED", "Feed", trade.StockAccount); err != nil {
			return err
		}
		for i := range sellers {
			if _, err := tx.PutSupplier(trade.Supplier{Code: fmt.Sprintf("S%02d", i), Name: fmt.Sprintf("Supplier %02d", i), TaxID: fmt.Sprintf("IE%07d", i), Currency: "EUR",
				IBAN: account(i), Terms: trade.Terms{NetDays: 30}}); err != nil {
				return err
			}
		}
		for i := range lines {
			if _, err := tx.PutItem(store.Item{Code: fmt.Sprintf("I%d", i), Name: fmt.Sprintf("Item %d", i), Unit: "KGM"}); err != nil {
				return err
			}
		}
		two := money.Int(2)
		return tx.PutLimit(store.LimitRule{Rule: limit.Rule{Kind: limit.UnitPrice, Side: limit.Over, Percent: &two}})
	})
}

// order issues an order of three lines and receives it in full.
func (w *world) order(ctx context.Context, n int) (int64, error) {
	entry := orders.Entry{Supplier: fmt.Sprintf("S%02d", n%sellers), WantedOn: today}
	for i := range lines {
		entry.Lines = append(
			entry.Lines,
			orders.EntryLine{
				Item:        fmt.Sprintf("I%d", i),
				Quantity:    money.Int(int64(10 + i)),
				Price:       money.MustDecimal("12.35"),
				TaxCategory: "S",
				TaxRate:     money.Int(23),
				Budget:      "FEED",
			},
		)
	}
	issued, err := orders.Issue(ctx, w.app, w.as("buyer"), entry)
	if err != nil {
		return 0, err
	}
	delivery := receiving.DeliveryEntry{
		Order: issued.Number,
		Entry: receive.Entry{Note: fmt.Sprintf("DN %d", n), Day: today},
	}
	for i := range lines {
		delivery.Lines = append(delivery.Lines, receive.Line{No: i + 1, Quantity: money.Int(int64(10 + i))})
	}
	_, err = receiving.BookDelivery(ctx, w.app, w.as("receiver"), delivery)
	return issued.Number, err
}

// invoice is the e-invoice over a whole order.
func invoice(order int64, n int) act.File {
	text := fmt.Sprintf(`<?xml version="1.0" encoding="UTF-8"?>
<Invoice xmlns="urn:oasis:names:specification:ubl:schema:xsd:Invoice-2" xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
  <cbc:CustomizationID>urn:cen.eu:en16931:2017</cbc:CustomizationID>
  <cbc:ID>INV-%07d</cbc:ID><cbc:IssueDate>%s</cbc:IssueDate><cbc:InvoiceTypeCode>380</cbc:InvoiceTypeCode><cbc:DocumentCurrencyCode>EUR</cbc:DocumentCurrencyCode>
  <cac:OrderReference><cbc:ID>%d</cbc:ID></cac:OrderReference>
  <cac:AccountingSupplierParty><cac:Party><cac:PartyName><cbc:Name>Supplier %02d</cbc:Name></cac:PartyName>
    <cac:PostalAddress><cbc:StreetName>Quay Road 4</cbc:StreetName><cac:Country><cbc:IdentificationCode>IE</cbc:IdentificationCode></cac:Country></cac:PostalAddress>
    <cac:PartyTaxScheme><cbc:CompanyID>IE%07d</cbc:CompanyID><cac:TaxScheme><cbc:ID>VAT</cbc:ID></cac:TaxScheme></cac:PartyTaxScheme>
    <cac:PartyLegalEntity><cbc:RegistrationName>Supplier %02d</cbc:RegistrationName></cac:PartyLegalEntity></cac:Party></cac:AccountingSupplierParty>
  <cac:AccountingCustomerParty><cac:Party><cac:PartyName><cbc:Name>Bench House</cbc:Name></cac:PartyName></cac:Party></cac:AccountingCustomerParty>
  <cac:PaymentMeans><cbc:PaymentMeansCode>30</cbc:PaymentMeansCode><cac:PayeeFinancialAccount><cbc:ID>%s</cbc:ID></cac:PayeeFinancialAccount></cac:PaymentMeans>
  <cac:TaxTotal><cbc:TaxAmount currencyID="EUR">93.74</cbc:TaxAmount><cac:TaxSubtotal><cbc:TaxableAmount currencyID="EUR">407.55</cbc:TaxableAmount><cbc:TaxAmount currencyID="EUR">93.74</cbc:TaxAmount><cac:TaxCategory><cbc:ID>S</cbc:ID><cbc:Percent>23</cbc:Percent><cac:TaxScheme><cbc:ID>VAT</cbc:ID></cac:TaxScheme></cac:TaxCategory></cac:TaxSubtotal></cac:TaxTotal>
  <cac:LegalMonetaryTotal><cbc:LineExtensionAmount currencyID="EUR">407.55</cbc:LineExtensionAmount><cbc:TaxExclusiveAmount currencyID="EUR">407.55</cbc:TaxExclusiveAmount><cbc:TaxInclusiveAmount currencyID="EUR">501.29</cbc:TaxInclusiveAmount><cbc:PayableAmount currencyID="EUR">501.29</cbc:PayableAmount></cac:LegalMonetaryTotal>`,
		n, today.Add(-(n / sellers % 300)), order, n%sellers, n%sellers, n%sellers, account(n%sellers))
	for i := range lines {
		net, _ := money.Net(
			money.Int(int64(10+i)),
			money.MustDecimal("12.35"),
			money.Int(1),
			0,
			0,
			"EUR",
		) // far from any bound
		text += fmt.Sprintf(`
  <cac:InvoiceLine><cbc:ID>%[1]d</cbc:ID><cbc:InvoicedQuantity unitCode="KGM">%[2]d</cbc:InvoicedQuantity><cbc:LineExtensionAmount currencyID="EUR">%[3]s</cbc:LineExtensionAmount>
    <cac:OrderLineReference><cbc:LineID>%[1]d</cbc:LineID></cac:OrderLineReference>
    <cac:Item><cbc:Name>Item %[4]d</cbc:Name><cac:ClassifiedTaxCategory><cbc:ID>S</cbc:ID><cbc:Percent>23</cbc:Percent><cac:TaxScheme><cbc:ID>VAT</cbc:ID></cac:TaxScheme></cac:ClassifiedTaxCategory></cac:Item>
    <cac:Price><cbc:PriceAmount currencyID="EUR">12.35</cbc:PriceAmount></cac:Price></cac:InvoiceLine>`, i+1, 10+i, net.Text("EUR"), i)
	}
	return act.File{Name: fmt.Sprintf("INV-%07d.xml", n), Content: []byte(text + "\n</Invoice>\n")}
}

// account is the account number of a supplier, with its check digits (ISO 13616).
func account(n int) string {
	digits := fmt.Sprintf("%014d", n)
	rest := 0
	for _, c := range "32142829" + digits + "161100" { // WEST, the number, GB and 00
		rest = (rest*10 + int(c-'0')) % 97
	}
	return fmt.Sprintf("GB%02dWEST%s", 98-rest, digits)
}

// copyFolder gives a folder with a copy of the data in another.
func copyFolder(from, to string) error {
	if err := os.MkdirAll(to, 0o700); err != nil {
		return err
	}
	in, err := os.Open(filepath.Join(from, "lagoon.db"))
	if err != nil {
		return err
	}
	defer in.Close() //nolint:errcheck // only read
	out, err := os.Create(filepath.Join(to, "lagoon.db"))
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	if err != nil {
		return err
	}
	return out.Close()
}
