//go:build reference

package reference

// This file measures what is proposed of seventy-two PDFs: twelve layouts, in three languages, from three programs. Six layouts are apart: the
// reader was not changed after what they showed, and theirs are the figures that count.

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"html/template"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"codeberg.org/go-pdf/fpdf"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/reading"
	"lagoon/internal/outside/papertext"
)

// bill is what a paper of the set says.
type bill struct {
	Supplier        reading.Supplier
	Street, Town    string
	Number, Date    string // the date as it is written
	Day             day.Day
	Due             string
	Order, Note     string
	Currency        string
	Lines           []billed
	Net, Tax, Gross money.Decimal
	Rate            string
	Words           map[string]string
	Comma           bool
}

type billed struct{ Code, Text, Quantity, Unit, Price, Amount string }

// Sum is an amount as it is written in the bill's language.
func (b bill) Sum(d money.Decimal) string {
	text := d.String()
	whole, cents, _ := strings.Cut(text, ".")
	cents = (cents + "00")[:2]
	point, group := ".", ","
	if b.Comma {
		point, group = ",", "."
		if b.Words["invoice"] == "Facture" {
			group = " "
		}
	}
	if n := len(whole); n > 3 {
		whole = whole[:n-3] + group + whole[n-3:]
	}
	return whole + point + cents
}

// Balance is what an account comes to with this bill and another one of as much as its tax.
func (b bill) Balance() money.Decimal { return b.Gross + b.Tax }

// W is a word in the bill's language.
func (b bill) W(word string) string { return b.Words[word] }

var (
	english = map[string]string{
		"before": "Balance brought forward", "balance": "Balance on your account", "invoice": "Invoice", "number": "Invoice No.", "date": "Invoice date", "order": "Your order", "note": "Delivery note", "due": "Due date",
		"net": "Subtotal", "tax": "VAT", "gross": "Amount due", "taxid": "VAT No.", "customer": "Customer", "item": "Description", "quantity": "Qty",
		"price": "Unit price", "amount": "Amount", "pay": "Please pay to", "thanks": "Thank you for your business.", "page": "Page 1 of 1", "to": "Bill to",
	}
	german = map[string]string{
		"before": "Saldovortrag", "balance": "Saldo Ihres Kontos", "invoice": "Rechnung", "number": "Rechnungsnummer", "date": "Rechnungsdatum", "order": "Ihre Bestellung", "note": "Lieferschein", "due": "Fällig am",
		"net": "Nettobetrag", "tax": "MwSt.", "gross": "Rechnungsbetrag", "taxid": "USt-IdNr.", "customer": "Kunde", "item": "Bezeichnung", "quantity": "Menge",
		"price": "Einzelpreis", "amount": "Betrag", "pay": "Bankverbindung", "thanks": "Vielen Dank für Ihren Auftrag.", "page": "Seite 1 von 1", "to": "An",
	}
	french = map[string]string{
		"before": "Solde précédent", "balance": "Solde de votre compte", "invoice": "Facture", "number": "Facture n°", "date": "Date de facture", "order": "Votre commande", "note": "Bon de livraison", "due": "Échéance",
		"net": "Total HT", "tax": "TVA", "gross": "Total TTC", "taxid": "N° TVA", "customer": "Client", "item": "Désignation", "quantity": "Qté",
		"price": "Prix unitaire", "amount": "Montant", "pay": "Coordonnées bancaires", "thanks": "Merci de votre confiance.", "page": "Page 1 sur 1", "to": "À l’attention de",
	}
)

var qualityKnown = reading.Known{
	Suppliers: []reading.Supplier{
		{Code: "ALDER", Name: "Alderholt Pumps Ltd", TaxID: "GB970004401", IBANs: []string{"GB33BUKB20201555555555"}},
		{Code: "BRUNN", Name: "Brunnmoser Filtertechnik GmbH", TaxID: "DE970001301", IBANs: []string{"DE89370400440532013000"}},
		{Code: "CAREN", Name: "Carenac Nutrition Marine", TaxID: "FR40970003301", IBANs: []string{"FR1420041010050500013M02606"}},
		{Code: "DUNMO", Name: "Dunmore Feeds", TaxID: "IE9700011B", IBANs: []string{"IE29AIBK93115212345678"}},
		{Code: "ELLER", Name: "Ellerbek Salzwerke KG", TaxID: "DE970002402"},
		{Code: "FOUGE", Name: "Fougères Emballages SARL", TaxID: "FR83970005505"},
		{Code: "DUNMA", Name: "Dunmanway Glass", TaxID: "IE9700099K"},
		{Code: "PUMPS", Name: "Pumps and Valves Trading", TaxID: "GB970009909"},
	},
	Order: func(number string) (string, bool) {
		code, ok := map[string]string{
			"4101": "ALDER", "4117": "BRUNN", "4122": "CAREN", "4138": "DUNMO", "4144": "ELLER", "4159": "FOUGE", "4160": "DUNMA", "4166": "PUMPS",
		}[number]
		return code, ok
	},
	Note: func(_, note string) bool { return strings.HasPrefix(note, "LS-") || strings.HasPrefix(note, "DN ") },
	Account: func(text string) bool {
		return slices.Contains([]string{"GB33BUKB20201555555555", "DE89370400440532013000", "FR1420041010050500013M02606", "IE29AIBK93115212345678"}, text)
	},
	Today: "2026-11-29",
}

// bills are six bills, one of each of six suppliers.
func bills() []bill {
	d := func(text string) money.Decimal {
		value, err := money.ParseDecimal(text)
		if err != nil {
			panic(err)
		}
		return value
	}
	s := qualityKnown.Suppliers
	return []bill{
		{Supplier: s[0], Street: "4 Weir Lane", Town: "Alderholt SP6 3AA", Number: "INV-20811", Date: "17 November 2026", Day: "2026-11-17", Due: "17 December 2026", Order: "4101", Note: "DN 5512", Currency: "GBP", Rate: "20 %", Words: english,
			Lines: []billed{{"P-40", "Circulation pump 400 W", "2", "pcs", "612.50", "1,225.00"}, {"G-11", "Gasket set", "10", "pcs", "4.20", "42.00"}}, Net: d("1267.00"), Tax: d("253.40"), Gross: d("1520.40")},
		{Supplier: s[1], Street: "Industriestr. 12", Town: "86150 Augsburg", Number: "R2026/1187", Date: "12.11.2026", Day: "2026-11-12", Due: "12.12.2026", Order: "4117", Note: "LS-88120", Currency: "EUR", Rate: "19 %", Words: german, Comma: true,
			Lines: []billed{{"F-200", "Filterpatrone 200 mm", "24", "Stk", "38,75", "930,00"}, {"V-3", "Rückschlagventil", "6", "Stk", "112,90", "677,40"}}, Net: d("1607.40"), Tax: d("305.41"), Gross: d("1912.81")},
		{Supplier: s[2], Street: "8 quai du Port", Town: "46110 Carennac", Number: "FA-0004417", Date: "09/11/2026", Day: "2026-11-09", Due: "09/12/2026", Order: "4122", Note: "LS-7741", Currency: "EUR", Rate: "20 %", Words: french, Comma: true,
			Lines: []billed{{"N12", "Aliment larvaire", "150", "kg", "7,90", "1 185,00"}}, Net: d("1185.00"), Tax: d("237.00"), Gross: d("1422.00")},
		{Supplier: s[3], Street: "Quay Road", Town: "Dunmore East X91", Number: "77120", Date: "2026-11-20", Day: "2026-11-20", Due: "2026-12-20", Order: "4138", Note: "DN 90112", Currency: "EUR", Rate: "23 %", Words: english,
			Lines: []billed{{"CAP", "Capelin, loose", "480", "kg", "2.05", "984.00"}, {"KRL", "Krill, frozen", "100", "kg", "5.60", "560.00"}}, Net: d("1544.00"), Tax: d("355.12"), Gross: d("1899.12")},
		{Supplier: s[4], Street: "Salinenweg 3", Town: "24159 Kiel", Number: "2026-004512", Date: "3. November 2026", Day: "2026-11-03", Due: "17.11.2026", Order: "4144", Note: "LS-3310", Currency: "EUR", Rate: "19 %", Words: german, Comma: true,
			Lines: []billed{{"SAL25", "Meersalz, lose", "24", "t", "114,50", "2.748,00"}}, Net: d("2748.00"), Tax: d("522.12"), Gross: d("3270.12")},
		{Supplier: s[5], Street: "ZI du Guet", Town: "35300 Fougères", Number: "F 26 1108", Date: "18 novembre 2026", Day: "2026-11-18", Due: "18 décembre 2026", Order: "4159", Note: "LS-0091", Currency: "EUR", Rate: "20 %", Words: french, Comma: true,
			Lines: []billed{{"S40", "Sac papier 40 cm", "2 000", "pce", "0,18", "360,00"}, {"C12", "Carton 12 L", "300", "pce", "1,24", "372,00"}}, Net: d("732.00"), Tax: d("146.40"), Gross: d("878.40")},
	}
}

// layout is one way in which bills are laid out.
type layout struct {
	name  string
	apart bool // the reader was not changed after it
	by    string
	page  string // the template of those that are laid out by HTML
	draw  func(p *fpdf.Fpdf, tr func(string) string, b bill)
}

var layouts = []layout{
	{name: "letterhead", by: "fpdf", draw: func(p *fpdf.Fpdf, tr func(string) string, b bill) {
		at := func(x, y, size float64, style, text string) {
			p.SetFont("Helvetica", style, size)
			p.Text(x, y, tr(text))
		}
		at(20, 22, 16, "B", b.Supplier.Name)
		at(20, 28, 9, "", b.Street+", "+b.Town+"   "+b.W("taxid")+" "+b.Supplier.TaxID)
		at(20, 50, 10, "", "Skerry Point Aquarium")
		at(20, 55, 10, "", "1 Harbour Road")
		at(125, 50, 14, "B", b.W("invoice"))
		for i, row := range [][2]string{{b.W("number"), b.Number}, {b.W("date"), b.Date}, {b.W("order"), b.Order}, {b.W("note"), b.Note}, {b.W("due"), b.Due}} {
			at(125, 58+float64(i)*5, 9, "", row[0]+":")
			at(162, 58+float64(i)*5, 9, "", row[1])
		}
		y := 100.0
		for i, head := range []string{b.W("item"), b.W("quantity"), b.W("price"), b.W("amount")} {
			at([]float64{20, 100, 130, 165}[i], y, 9, "B", head)
		}
		for _, l := range b.Lines {
			y += 7
			at(20, y, 9, "", l.Text)
			at(100, y, 9, "", l.Quantity+" "+l.Unit)
			at(130, y, 9, "", l.Price)
			at(165, y, 9, "", l.Amount)
		}
		for i, row := range [][2]string{{b.W("net"), b.Sum(b.Net)}, {b.W("tax") + " " + b.Rate, b.Sum(b.Tax)}, {b.W("gross") + " " + b.Currency, b.Sum(b.Gross)}} {
			at(120, y+15+float64(i)*6, 10, "", row[0])
			at(165, y+15+float64(i)*6, 10, "", row[1])
		}
		at(20, 270, 8, "", b.W("pay")+": "+strings.Join(b.Supplier.IBANs, " "))
	}},
	{name: "heads above figures", by: "fpdf", apart: true, draw: func(p *fpdf.Fpdf, tr func(string) string, b bill) {
		cell := func(w, h float64, text, border, align string, bold bool) {
			p.SetFont("Times", map[bool]string{true: "B"}[bold], 9)
			p.CellFormat(w, h, tr(text), border, 0, align, false, 0, "")
		}
		p.SetXY(15, 15)
		p.SetFont("Times", "B", 20)
		p.CellFormat(180, 10, tr(strings.ToUpper(b.W("invoice"))), "", 1, "R", false, 0, "")
		for _, text := range []string{b.Supplier.Name, b.Street, b.Town} {
			p.SetX(15)
			cell(100, 5, text, "", "L", false)
			p.Ln(5)
		}
		p.Ln(8)
		p.SetX(15)
		for _, head := range []string{b.W("date"), b.W("number"), b.W("customer"), b.W("order"), b.W("due")} {
			cell(36, 6, head, "1", "C", true)
		}
		p.Ln(6)
		p.SetX(15)
		for _, text := range []string{b.Date, b.Number, "C-1044", b.Order, b.Due} {
			cell(36, 6, text, "1", "C", false)
		}
		p.Ln(14)
		p.SetX(15)
		for i, head := range []string{"", b.W("item"), b.W("quantity"), b.W("price"), b.W("amount")} {
			cell([]float64{20, 80, 25, 25, 30}[i], 6, head, "B", "L", true)
		}
		for _, l := range b.Lines {
			p.Ln(6)
			p.SetX(15)
			for i, text := range []string{l.Code, l.Text, l.Quantity, l.Price, l.Amount} {
				cell([]float64{20, 80, 25, 25, 30}[i], 6, text, "", "L", false)
			}
		}
		p.Ln(12)
		for _, row := range [][2]string{{b.W("net"), b.Sum(b.Net)}, {b.W("tax") + " " + b.Rate, b.Sum(b.Tax)}, {b.W("gross"), b.Currency + " " + b.Sum(b.Gross)}} {
			p.SetX(115)
			cell(50, 6, row[0], "", "L", true)
			cell(30, 6, row[1], "", "R", false)
			p.Ln(6)
		}
		p.SetXY(15, 265)
		cell(180, 5, b.W("taxid")+" "+b.Supplier.TaxID+" · "+b.W("page"), "T", "C", false)
	}},
	{name: "one sentence of references", by: "fpdf", draw: func(p *fpdf.Fpdf, tr func(string) string, b bill) {
		write := func(size float64, style, text string) {
			p.SetFont("Courier", style, size)
			p.MultiCell(170, 5, tr(text), "", "L", false)
		}
		p.SetXY(20, 20)
		write(11, "B", b.Supplier.Name)
		write(9, "", b.Street+"\n"+b.Town+"\n\nSkerry Point Aquarium\n\n")
		write(12, "B", b.W("number")+" "+b.Number)
		write(9, "", b.W("date")+" "+b.Date+"\n\n"+b.W("order")+" "+b.Order+", "+b.W("note")+" "+b.Note+"\n\n")
		for _, l := range b.Lines {
			write(9, "", fmt.Sprintf("%-8s%-26s%8s %-4s%10s%12s", l.Code, l.Text, l.Quantity, l.Unit, l.Price, l.Amount))
		}
		write(9, "", strings.Repeat("-", 68))
		for _, row := range [][2]string{{b.W("net"), b.Sum(b.Net)}, {b.W("tax") + " " + b.Rate, b.Sum(b.Tax)}, {b.W("gross"), b.Sum(b.Gross)}} {
			write(9, "", fmt.Sprintf("%50s%18s", row[0], row[1]))
		}
		write(9, "", "\n"+b.W("due")+": "+b.Due+"\n"+b.W("taxid")+" "+b.Supplier.TaxID+"\n"+strings.Join(b.Supplier.IBANs, ""))
	}},
	{name: "plain web page", by: "chromium", page: `<style>body{font:12px sans-serif}table{width:100%;border-collapse:collapse}td,th{padding:3px;text-align:left}.n{text-align:right}</style>
		<h2>{{.Supplier.Name}}</h2><p>{{.Street}}<br>{{.Town}}<br>{{.W "taxid"}}: {{.Supplier.TaxID}}</p><h1>{{.W "invoice"}} {{.Number}}</h1>
		<table><tr><td>{{.W "date"}}</td><td>{{.Date}}</td><td>{{.W "order"}}</td><td>{{.Order}}</td></tr><tr><td>{{.W "due"}}</td><td>{{.Due}}</td><td>{{.W "note"}}</td><td>{{.Note}}</td></tr></table>
		<table><tr><th>{{.W "item"}}</th><th class=n>{{.W "quantity"}}</th><th class=n>{{.W "price"}}</th><th class=n>{{.W "amount"}}</th></tr>
		{{range .Lines}}<tr><td>{{.Text}}</td><td class=n>{{.Quantity}}</td><td class=n>{{.Price}}</td><td class=n>{{.Amount}}</td></tr>{{end}}
		<tr><td colspan=3 class=n>{{.W "net"}}</td><td class=n>{{.Sum .Net}}</td></tr><tr><td colspan=3 class=n>{{.W "tax"}} {{.Rate}}</td><td class=n>{{.Sum .Tax}}</td></tr>
		<tr><td colspan=3 class=n><b>{{.W "gross"}}</b></td><td class=n><b>{{.Sum .Gross}} {{.Currency}}</b></td></tr></table><p>{{.W "thanks"}}</p><p>{{range .Supplier.IBANs}}IBAN {{.}}{{end}}</p>`},
	{name: "cards", by: "chromium", apart: true, page: `<style>body{font:11px Georgia,serif;margin:0}.top{background:#234;color:#fff;padding:16px;display:flex;justify-content:space-between}
		.cards{display:grid;grid-template-columns:repeat(4,1fr);gap:8px;margin:16px 0}.card{border:1px solid #ccc;padding:6px}.card b{display:block;font-size:9px;color:#666}
		table{width:100%}td{padding:4px}.n{text-align:right}.sum{margin-left:auto;width:45%}footer{position:fixed;bottom:0;display:grid;grid-template-columns:1fr 1fr 1fr;width:100%;font-size:9px}</style>
		<div class=top><span style="font-size:22px">{{.Supplier.Name}}</span><span style="font-size:22px">{{.W "invoice"}}</span></div>
		<p>{{.W "to"}}<br>Skerry Point Aquarium<br>1 Harbour Road</p>
		<div class=cards><div class=card><b>{{.W "number"}}</b>{{.Number}}</div><div class=card><b>{{.W "date"}}</b>{{.Date}}</div><div class=card><b>{{.W "due"}}</b>{{.Due}}</div><div class=card><b>{{.W "order"}}</b>{{.Order}}</div></div>
		<table>{{range .Lines}}<tr><td>{{.Code}}</td><td>{{.Text}}</td><td class=n>{{.Quantity}} {{.Unit}}</td><td class=n>{{.Price}}</td><td class=n>{{.Amount}}</td></tr>{{end}}</table>
		<table class=sum><tr><td>{{.W "net"}}</td><td class=n>{{.Sum .Net}} {{.Currency}}</td></tr><tr><td>{{.W "tax"}} ({{.Rate}})</td><td class=n>{{.Sum .Tax}} {{.Currency}}</td></tr>
		<tr style="font-size:16px"><td>{{.W "gross"}}</td><td class=n>{{.Sum .Gross}} {{.Currency}}</td></tr></table>
		<footer><div>{{.Supplier.Name}}<br>{{.Street}}<br>{{.Town}}</div><div>{{.W "taxid"}}<br>{{.Supplier.TaxID}}</div><div>{{.W "pay"}}<br>{{range .Supplier.IBANs}}{{.}}{{end}}</div></footer>`},
	{name: "order on each line", by: "chromium", apart: true, page: `<style>body{font:12px Arial}table{border-collapse:collapse;width:100%}td,th{border:1px solid #000;padding:2px 5px}.n{text-align:right}</style>
		<table style="border:0"><tr><td style="border:0;width:60%"><b>{{.Supplier.Name}}</b><br>{{.Street}}, {{.Town}}</td><td>{{.W "number"}}<br><b>{{.Number}}</b></td><td>{{.W "date"}}<br><b>{{.Date}}</b></td></tr></table>
		<p>{{.W "to"}} Skerry Point Aquarium, 1 Harbour Road · {{.W "customer"}} 10447</p>
		<table><tr><th>{{.W "order"}}</th><th>{{.W "note"}}</th><th>{{.W "item"}}</th><th>{{.W "quantity"}}</th><th>{{.W "price"}}</th><th>{{.W "amount"}}</th></tr>
		{{$b := .}}{{range .Lines}}<tr><td>{{$b.Order}}</td><td>{{$b.Note}}</td><td>{{.Text}}</td><td class=n>{{.Quantity}}</td><td class=n>{{.Price}}</td><td class=n>{{.Amount}}</td></tr>{{end}}</table>
		<table style="width:50%;margin-left:50%"><tr><td>{{.W "tax"}} %</td><td>{{.W "net"}}</td><td>{{.W "tax"}}</td></tr><tr><td>{{.Rate}}</td><td class=n>{{.Sum .Net}}</td><td class=n>{{.Sum .Tax}}</td></tr><tr><td colspan=2><b>{{.W "gross"}} {{.Currency}}</b></td><td class=n><b>{{.Sum .Gross}}</b></td></tr></table>
		<p>{{.W "due"}} {{.Due}}. {{.W "taxid"}} {{.Supplier.TaxID}}</p>`},
	{name: "narrow", by: "chromium", page: `<style>body{font:11px monospace;width:300px}.r{display:flex;justify-content:space-between}</style><div style="text-align:center"><b>{{.Supplier.Name}}</b><br>{{.Street}}<br>{{.Town}}<br>{{.W "taxid"}} {{.Supplier.TaxID}}</div><hr>
		<div class=r><span>{{.W "number"}}</span><span>{{.Number}}</span></div><div class=r><span>{{.W "date"}}</span><span>{{.Date}}</span></div><div class=r><span>{{.W "order"}}</span><span>{{.Order}}</span></div><hr>
		{{range .Lines}}<div>{{.Text}}</div><div class=r><span>{{.Quantity}} x {{.Price}}</span><span>{{.Amount}}</span></div>{{end}}<hr>
		<div class=r><span>{{.W "net"}}</span><span>{{.Sum .Net}}</span></div><div class=r><span>{{.W "tax"}} {{.Rate}}</span><span>{{.Sum .Tax}}</span></div><div class=r><b>{{.W "gross"}}</b><b>{{.Sum .Gross}}</b></div>`},
	{name: "with a balance brought forward", by: "chromium", apart: true, page: `<style>body{font:12px Verdana}.n{text-align:right}table{width:100%}aside{float:right;width:40%}</style>
		<aside><b>{{.W "invoice"}}</b><br>{{.W "number"}}: {{.Number}}<br>{{.W "date"}}: {{.Date}}<br>{{.W "customer"}}: SK-20933<br>Tel. +44 1722 555 0199</aside>
		<h3>{{.Supplier.Name}}</h3><p>{{.Street}}, {{.Town}}</p><p>{{.W "to"}}: Skerry Point Aquarium</p><p>{{.W "order"}}: {{.Order}} / {{.W "note"}}: {{.Note}}</p>
		<table>{{range .Lines}}<tr><td>{{.Code}} {{.Text}}</td><td class=n>{{.Quantity}} {{.Unit}} x {{.Price}}</td><td class=n>{{.Amount}}</td></tr>{{end}}
		<tr><td></td><td class=n>{{.W "net"}}</td><td class=n>{{.Sum .Net}}</td></tr><tr><td></td><td class=n>{{.W "tax"}} {{.Rate}}</td><td class=n>{{.Sum .Tax}}</td></tr><tr><td></td><td class=n>{{.W "gross"}}</td><td class=n>{{.Sum .Gross}}</td></tr>
		<tr><td></td><td class=n>{{.W "before"}}</td><td class=n>{{.Sum .Tax}}</td></tr><tr><td></td><td class=n>{{.W "balance"}}</td><td class=n>{{.Sum .Balance}}</td></tr></table>
		<p style="font-size:9px">{{.W "taxid"}} {{.Supplier.TaxID}} {{range .Supplier.IBANs}}IBAN {{.}}{{end}}</p>`},
	{name: "much else around", by: "fpdf", apart: true, draw: func(p *fpdf.Fpdf, tr func(string) string, b bill) {
		at := func(x, y, size float64, text string) {
			p.SetFont("Helvetica", "", size)
			p.Text(x, y, tr(text))
		}
		at(20, 15, 8, b.Supplier.Name+" - "+b.Street+" - "+b.Town)
		at(20, 45, 10, "Skerry Point Aquarium")
		at(20, 50, 10, "1 Harbour Road")
		for i, row := range []string{"Ref. 88-2201 / kb", "Tel. 0049 431 5550 144", b.W("customer") + " 300412", b.W("date") + " " + b.Date, b.W("number") + " " + b.Number} {
			at(140, 40+float64(i)*5, 8, row)
		}
		at(20, 80, 13, b.W("invoice"))
		at(20, 88, 9, b.W("order")+" "+b.Order+" (2026-10-02), "+b.W("note")+" "+b.Note)
		y := 100.0
		for i, l := range b.Lines {
			at(20, y, 9, fmt.Sprint(i+1))
			at(28, y, 9, l.Code)
			at(50, y, 9, l.Text)
			at(115, y, 9, l.Quantity+" "+l.Unit)
			at(140, y, 9, l.Price)
			at(170, y, 9, l.Amount)
			y += 6
		}
		at(20, y+8, 9, b.W("net")+" "+b.Currency+" "+b.Sum(b.Net)+"   + "+b.W("tax")+" "+b.Rate+" "+b.Currency+" "+b.Sum(b.Tax))
		at(20, y+16, 11, b.W("gross")+" "+b.Currency+" "+b.Sum(b.Gross))
		at(20, y+24, 9, b.W("due")+" "+b.Due+". "+b.W("thanks"))
		at(20, 280, 7, b.W("taxid")+" "+b.Supplier.TaxID+"  HRB 2210  "+strings.Join(b.Supplier.IBANs, " ")+"  "+b.W("page"))
	}},
	{name: "sheet", by: "office", page: `<table><col width=150><col width=130><col width=105><col width=135><col width=100><tr><td><font size=1>{{.Supplier.Name}}</font></td><td></td><td></td><td><font size=1><b>{{.W "invoice"}}</b></font></td></tr><tr><td><font size=1>{{.Street}}</font></td></tr><tr><td><font size=1>{{.Town}}</font></td></tr><tr><td></td></tr>
		<tr><td><font size=1>{{.W "number"}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Number}}</font></td></tr><tr><td><font size=1>{{.W "date"}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Date}}</font></td></tr><tr><td><font size=1>{{.W "order"}}</font></td><td><font size=1>{{.Order}}</font></td></tr><tr><td></td></tr>
		<tr><td><font size=1>{{.W "item"}}</font></td><td><font size=1>{{.W "quantity"}}</font></td><td><font size=1>{{.W "price"}}</font></td><td><font size=1>{{.W "amount"}}</font></td></tr>{{range .Lines}}<tr><td><font size=1>{{.Text}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Quantity}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Price}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Amount}}</font></td></tr>{{end}}<tr><td></td></tr>
		<tr><td></td><td></td><td><font size=1>{{.W "net"}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Sum .Net}}</font></td></tr><tr><td></td><td></td><td><font size=1>{{.W "tax"}} {{.Rate}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Sum .Tax}}</font></td></tr><tr><td></td><td></td><td><font size=1>{{.W "gross"}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Sum .Gross}}</font></td></tr><tr><td></td></tr><tr><td><font size=1>{{.W "taxid"}} {{.Supplier.TaxID}}</font></td></tr></table>`},
	{name: "sheet with labels below each other", by: "office", page: `<table><col width=150><col width=130><col width=105><col width=135><col width=100><tr><td colspan=2><font size=1>{{.W "invoice"}} · {{.Supplier.Name}}</font></td></tr><tr><td><font size=1>{{.W "taxid"}}</font></td><td><font size=1>{{.Supplier.TaxID}}</font></td></tr><tr><td><font size=1>{{.W "date"}}</font></td><td><font size=1>{{.W "number"}}</font></td><td><font size=1>{{.W "order"}}</font></td></tr><tr><td sdnum="1033;0;@"><font size=1>{{.Date}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Number}}</font></td><td><font size=1>{{.Order}}</font></td></tr><tr><td></td></tr>
		{{range .Lines}}<tr><td><font size=1>{{.Code}}</font></td><td><font size=1>{{.Text}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Quantity}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Price}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Amount}}</font></td></tr>{{end}}<tr><td></td></tr>
		<tr><td></td><td></td><td></td><td><font size=1>{{.W "net"}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Sum .Net}}</font></td></tr><tr><td></td><td></td><td></td><td><font size=1>{{.W "tax"}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Sum .Tax}}</font></td></tr><tr><td></td><td></td><td></td><td><font size=1>{{.W "gross"}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Sum .Gross}}</font></td></tr></table>`},
	{name: "sheet that sums tax apart", by: "office", apart: true, page: `<table><col width=150><col width=130><col width=105><col width=135><col width=100><tr><td><font size=1><b>{{.Supplier.Name}}</b></font></td><td></td><td></td><td></td><td><font size=1>{{.Street}} {{.Town}}</font></td></tr><tr><td></td></tr><tr><td><font size=1>Skerry Point Aquarium</font></td><td></td><td></td><td><font size=1>{{.W "invoice"}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Number}}</font></td></tr><tr><td><font size=1>1 Harbour Road</font></td><td></td><td></td><td><font size=1>{{.W "date"}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Date}}</font></td></tr>
		<tr><td></td><td></td><td></td><td><font size=1>{{.W "order"}}</font></td><td><font size=1>{{.Order}}</font></td></tr><tr><td></td><td></td><td></td><td><font size=1>{{.W "note"}}</font></td><td><font size=1>{{.Note}}</font></td></tr><tr><td></td></tr>{{range .Lines}}<tr><td><font size=1>{{.Text}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Quantity}}</font></td><td><font size=1>{{.Unit}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Price}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Amount}}</font></td></tr>{{end}}<tr><td></td></tr>
		<tr><td><font size=1>{{.W "tax"}}</font></td><td><font size=1>{{.W "net"}}</font></td><td><font size=1>{{.W "tax"}}</font></td></tr><tr><td><font size=1>{{.Rate}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Sum .Net}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Sum .Tax}}</font></td></tr><tr><td></td></tr><tr><td></td><td></td><td></td><td><font size=1>{{.W "gross"}} {{.Currency}}</font></td><td sdnum="1033;0;@"><font size=1>{{.Sum .Gross}}</font></td></tr><tr><td><font size=1>{{.W "taxid"}} {{.Supplier.TaxID}}</font></td></tr></table>`},
}

// laidOut are the papers once they are laid out: the tests that read them come one after the other.
var laidOut map[string][][]byte

// papersOf lays every bill out in every layout.
func papersOf(t *testing.T) map[string][][]byte {
	t.Helper()
	if laidOut != nil {
		return laidOut
	}
	folder := t.TempDir()
	browser := "/usr/bin/chromium-headless-shell"
	if _, err := os.Stat(browser); err != nil {
		browser = cmp.Or(os.Getenv("CHROMIUM"), "/usr/bin/chromium")
	}
	all := map[string][][]byte{}
	var office []string
	for i, l := range layouts {
		for j, b := range bills() {
			path := filepath.Join(folder, fmt.Sprintf("%02d-%d", i, j))
			if l.by == "fpdf" {
				p := fpdf.New("P", "mm", "A4", "")
				p.AddPage()
				l.draw(p, p.UnicodeTranslatorFromDescriptor(""), b)
				var out bytes.Buffer
				require.NoError(t, p.Output(&out))
				require.NoError(t, os.WriteFile(path+".pdf", out.Bytes(), 0o600))
				continue
			}
			var page bytes.Buffer
			page.WriteString(`<!doctype html><meta charset="utf-8">`)
			require.NoError(t, template.Must(template.New(l.name).Parse(l.page)).Execute(&page, b))
			require.NoError(t, os.WriteFile(path+".html", page.Bytes(), 0o600))
			if l.by == "office" {
				office = append(office, path+".html")
				continue
			}
			said, err := exec.Command(browser, "--headless", "--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--no-first-run", "--no-pdf-header-footer", "--user-data-dir="+filepath.Join(folder, "browser"), "--print-to-pdf="+path+".pdf", path+".html").CombinedOutput()
			require.NoError(t, err, string(said))
		}
	}
	given := append([]string{"-env:UserInstallation=file://" + filepath.Join(folder, "user"), "--headless", "--infilter=HTML (StarCalc)", "--convert-to", "pdf:calc_pdf_Export", "--outdir", folder}, office...)
	said, err := exec.Command("soffice", given...).CombinedOutput()
	require.NoError(t, err, string(said))
	for i, l := range layouts {
		for j := range bills() {
			content, err := os.ReadFile(filepath.Join(folder, fmt.Sprintf("%02d-%d.pdf", i, j)))
			require.NoError(t, err, l.name)
			all[l.name] = append(all[l.name], content)
		}
	}
	laidOut = all
	return all
}

// share counts how often a field was right, wrong, and wrong without being marked as doubtful.
type share struct{ right, wrong, sure, all int }

func (s *share) add(right, empty, doubtful bool) {
	s.all++
	switch {
	case right:
		s.right++
	case !empty && doubtful:
		s.wrong++
	case !empty:
		s.wrong++
		s.sure++
	}
}

// fields are those whose share is measured.
var fields = []string{"supplier", "number", "date", "order", "total"}

// measure counts what is proposed of a paper right and wrong, and logs what is not right.
func measure(t *testing.T, found map[string]*share, l layout, b bill, paper reading.Paper) {
	t.Helper()
	p := reading.Propose(paper, qualityKnown)
	order := reading.Read[string]{}
	if len(p.Orders) > 0 {
		order = p.Orders[0]
	}
	gross, _ := money.ParseDecimal(string(p.Total.Value))
	for _, f := range []struct {
		name                   string
		right, empty, doubtful bool
		said                   any
	}{
		{"supplier", p.Supplier.Value == b.Supplier.Code, p.Supplier.Value == "", p.Supplier.Doubtful, p.Supplier.Value},
		{"number", plainly(p.Number.Value) == plainly(b.Number), p.Number.Value == "", p.Number.Doubtful, p.Number.Value},
		{"date", p.Date.Value == b.Day, p.Date.Value == "", p.Date.Doubtful, p.Date.Value},
		{"order", len(p.Orders) == 1 && order.Value == b.Order, len(p.Orders) == 0, order.Doubtful, p.Orders},
		{"total", gross == b.Gross, p.Total.Value == "", p.Total.Doubtful, p.Total.Value},
	} {
		if found[f.name] == nil {
			found[f.name] = &share{}
		}
		found[f.name].add(f.right, f.empty, f.doubtful)
		if !f.right {
			t.Logf("%s, %s (%s): %s is %v, doubtful %t", l.name, b.Supplier.Code, l.by, f.name, f.said, f.doubtful)
		}
	}
}

// tell logs the shares.
func tell(t *testing.T, of string, found map[string]*share) {
	for _, f := range fields {
		s := found[f]
		t.Logf("%s, %s: %d of %d right (%d %%), %d wrong, %d of them not marked as doubtful", of, f, s.right, s.all, s.right*100/s.all, s.wrong, s.sure)
	}
}

// What is proposed of PDFs that others make is right nearly always, and what is wrong says that it is doubtful.
func TestWhatIsProposedOfPapers(t *testing.T) {
	papers := papersOf(t)
	reader := papertext.New()
	found := map[bool]map[string]*share{false: {}, true: {}}
	for _, l := range layouts {
		for i, b := range bills() {
			paper, err := reader.Read(context.Background(), papers[l.name][i])
			require.NoError(t, err)
			measure(t, found[l.apart], l, b, paper)
		}
	}
	tell(t, "tuned on", found[false])
	tell(t, "apart", found[true])
	for field, least := range map[string]int{"supplier": 98, "number": 95, "order": 95, "total": 98} {
		s := found[true][field]
		require.GreaterOrEqual(t, s.right*100, least*s.all, field)
	}
	for _, apart := range []bool{false, true} {
		for _, f := range fields {
			require.Zero(t, found[apart][f].sure, "%s that is wrong and not marked as doubtful", f)
		}
	}
}

// scans are what comes of a printed page that is drawn, laid on the glass and kept as a picture.
var scans = []struct {
	name, ending string
	how          []string
}{
	{"straight", "tif", []string{"-colorspace", "Gray", "-compress", "LZW"}},
	{"turned and noisy", "jpg", []string{"-background", "white", "-rotate", "1.3", "-attenuate", "0.35", "+noise", "Gaussian", "-colorspace", "Gray", "-quality", "70"}},
	{"faint", "jpg", []string{"-rotate", "-0.7", "+level", "25%,95%", "-blur", "0x0.6", "-quality", "60"}},
}

// Of scans, which are read by sight, most is right as well, and what is wrong says that it is doubtful. A few are tried each time, and
// all of them where LAGOON_SLOW is set.
func TestWhatIsProposedOfScans(t *testing.T) {
	papers := papersOf(t)
	reader := papertext.New()
	folder := t.TempDir()
	some, every := scans[1:2], 3
	if os.Getenv("LAGOON_SLOW") != "" {
		some, every = scans, 1
	}
	for _, scan := range some {
		found := map[string]*share{}
		for n, l := range layouts {
			if n%every != 0 {
				continue
			}
			i := n % len(bills()) // another supplier with each layout
			path := filepath.Join(folder, fmt.Sprintf("%02d", n))
			require.NoError(t, os.WriteFile(path+".pdf", papers[l.name][i], 0o600))
			said, err := exec.Command("pdftoppm", "-r", "200", "-png", "-singlefile", path+".pdf", path).CombinedOutput()
			require.NoError(t, err, string(said))
			said, err = exec.Command("mogrify", append(append([]string{"-format", scan.ending}, scan.how...), path+".png")...).CombinedOutput()
			require.NoError(t, err, string(said))
			content, err := os.ReadFile(path + "." + scan.ending)
			require.NoError(t, err)
			paper, err := reader.Read(context.Background(), content)
			require.NoError(t, err)
			require.True(t, paper.Seen)
			measure(t, found, l, bills()[i], paper)
		}
		tell(t, scan.name, found)
		for _, f := range fields {
			require.Zero(t, found[f].sure, "%s that is wrong and not marked as doubtful, %s", f, scan.name)
		}
	}
}

// plainly is a number without what stands between its letters and digits.
func plainly(text string) string {
	return strings.Map(func(r rune) rune {
		if r == ' ' || r == '-' || r == '/' {
			return -1
		}
		return r
	}, text)
}
