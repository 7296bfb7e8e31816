package reading

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// page is a paper whose words stand as they stand in a text: a letter is ten wide, a line thirty high.
func page(text string) Paper {
	p := Paper{Pages: 1, Read: 1}
	for y, row := range strings.Split(text, "\n") {
		for x := 0; x < len(row); {
			if row[x] == ' ' {
				x++
				continue
			}
			end := x
			for end < len(row) && row[end] != ' ' {
				end++
			}
			p.Words = append(p.Words, Word{Text: row[x:end], Box: Box{1, x * 10, y * 30, end * 10, y*30 + 20}})
			x = end
		}
	}
	return p
}

var known = Known{
	Suppliers: []Supplier{
		{Code: "BRACK", Name: "Brackwater Feeds", TaxID: "IE9700011B", IBANs: []string{"IE52BRCK99020011112222"}},
		{Code: "OSTRE", Name: "Ostrea Filtration", TaxID: "DE970001301"},
	},
	Today: "2026-11-29",
	Order: func(number string) (string, bool) {
		code, ok := map[string]string{"4190": "BRACK", "4191": "BRACK", "4186": "OSTRE"}[number]
		return code, ok
	},
	Note:    func(_, note string) bool { return note == "DN 5512" },
	Account: func(text string) bool { return text == "IE52BRCK99020011112222" || text == "GB82WEST12345698765432" },
}

const plainly = `Brackwater Feeds
VAT IE 9700011 B

Invoice number  BF-20440
Invoice date    25.11.2026
Your order      4190
Delivery note   DN 5512

Net             1,500.00
VAT 23 %          345.00
Amount due EUR  1,845.00`

// A total that the net and the tax beside it do not come to is doubtful: it may be a balance of the account.
func TestATotalThatDoesNotComeOfNetAndTax(t *testing.T) {
	p := Propose(page("Brackwater Feeds\nNet          100.00\nVAT 23 %      23.00\nThis invoice 123.00\nAmount due   623.00"), known)
	require.Equal(t, []any{"623.00", true}, []any{string(p.Total.Value), p.Total.Doubtful})
}

// A number may be written in groups, and then it is not sure; under heads beside each other a day in words is none.
func TestANumberInGroups(t *testing.T) {
	p := Propose(page("Brackwater Feeds\nInvoice number F 26 1108\nInvoice date 18 November 2026"), known)
	require.Equal(t, []any{"F 26 1108", true}, []any{p.Number.Value, p.Number.Doubtful})
	p = Propose(page("Brackwater Feeds\nInvoice number BF-26   1108"), known)
	require.Equal(t, []any{"BF-26", false}, []any{p.Number.Value, p.Number.Doubtful}, "what stands apart is something else")
	p = Propose(page("Brackwater Feeds\nInvoice date       Invoice number\n 18 November 2026  BF-20440"), known)
	require.Equal(t, "BF-20440", p.Number.Value)
}

func TestWhatAPaperSays(t *testing.T) {
	p := Propose(page(plainly), known)
	require.Equal(t, "BRACK", p.Supplier.Value)
	require.Equal(t, "BF-20440", p.Number.Value)
	require.Equal(t, day.Day("2026-11-25"), p.Date.Value)
	require.Equal(t, "4190", p.Orders[0].Value)
	require.Equal(t, "DN 5512", p.Notes[0].Value)
	require.Equal(t, money.Entered("1845.00"), p.Total.Value)
	require.Equal(t, "EUR", p.Currency)
	require.Equal(t, Box{1, 160, 90, 240, 110}, p.Number.At, "where it stands")
	for _, doubtful := range []bool{p.Supplier.Doubtful, p.Number.Doubtful, p.Date.Doubtful, p.Orders[0].Doubtful, p.Total.Doubtful, p.Credit} {
		require.False(t, doubtful)
	}
}

// What is not plain is doubtful, and what is not there is not made up.
func TestWhatIsDoubtful(t *testing.T) {
	for name, c := range map[string]struct {
		from, to string
		check    func(t *testing.T, p Proposal)
	}{
		"a name alone": {"VAT IE 9700011 B", "", func(t *testing.T, p Proposal) {
			require.Equal(t, "BRACK", p.Supplier.Value)
			require.True(t, p.Supplier.Doubtful)
		}},
		"the tax number of another": {"Brackwater Feeds", "Brackwater Feeds DE970001301", func(t *testing.T, p Proposal) {
			require.True(t, p.Supplier.Doubtful)
		}},
		"nobody that is known": {"Brackwater Feeds\nVAT IE 9700011 B", "Fernhollow Print", func(t *testing.T, p Proposal) {
			require.Equal(t, "BRACK", p.Supplier.Value, "whose order it names")
			require.True(t, p.Supplier.Doubtful)
		}},
		"a day that could be another": {"25.11.2026", "05/11/2026", func(t *testing.T, p Proposal) {
			require.Equal(t, day.Day("2026-11-05"), p.Date.Value)
			require.True(t, p.Date.Doubtful)
		}},
		"a day as the United States write it": {"25.11.2026", "11/25/2026", func(t *testing.T, p Proposal) {
			require.Equal(t, day.Day("2026-11-25"), p.Date.Value)
			require.False(t, p.Date.Doubtful)
		}},
		"a day to come":          {"25.11.2026", "25.12.2026", func(t *testing.T, p Proposal) { require.Empty(t, p.Date.Value) }},
		"no day of the calendar": {"25.11.2026", "31.11.2026", func(t *testing.T, p Proposal) { require.Empty(t, p.Date.Value) }},
		"another's order":        {"4190", "4186", func(t *testing.T, p Proposal) { require.Empty(t, p.Orders) }},
		"an order that nothing introduces": {"Your order      4190", "Ref             4190", func(t *testing.T, p Proposal) {
			require.True(t, p.Orders[0].Doubtful)
		}},
		"no number": {"Invoice number  BF-20440", "", func(t *testing.T, p Proposal) { require.Empty(t, p.Number.Value) }},
		"two totals": {"VAT 23 %          345.00", "Grand total     1,500.00", func(t *testing.T, p Proposal) {
			require.True(t, p.Total.Doubtful)
		}},
		"an account that is not the supplier's": {"Amount due EUR", "Pay to GB82 WEST 1234 5698 7654 32\nAmount due EUR", func(t *testing.T, p Proposal) {
			require.Equal(t, "GB82WEST12345698765432", p.IBAN.Value)
		}},
		"the supplier's account after another": {"Amount due EUR", "GB82 WEST 1234 5698 7654 32 or IE52BRCK99020011112222\nAmount due EUR", func(t *testing.T, p Proposal) {
			require.Equal(t, "IE52BRCK99020011112222", p.IBAN.Value)
		}},
		"no total": {"Amount due EUR  1,845.00", "", func(t *testing.T, p Proposal) { require.Empty(t, p.Total.Value) }},
		"a credit note": {"Invoice number  BF-20440", "Credit note     BF-C12", func(t *testing.T, p Proposal) {
			require.True(t, p.Credit)
			require.Equal(t, "BF-C12", p.Number.Value)
		}},
	} {
		t.Run(name, func(t *testing.T) {
			require.Contains(t, plainly, c.from)
			c.check(t, Propose(page(strings.Replace(plainly, c.from, c.to, 1)), known))
		})
	}
	seen := page(plainly)
	seen.Seen = true
	p := Propose(seen, known)
	require.True(t, p.Number.Doubtful, "eyes err where a text does not")
	require.False(t, p.Total.Doubtful, "it adds up")
}

func TestFigures(t *testing.T) {
	for text, want := range map[string]string{
		"1,234.56": "1234.56", "1.234,56": "1234.56", "1’234.56": "1234.56", "€12.00": "12", "12.00EUR": "12", "-5.10": "-5.1", "(5.10)": "-5.1", "5,10-": "-5.1",
	} {
		d, ok := amount(text)
		require.True(t, ok, text)
		require.Equal(t, want, d.String(), text)
	}
	for _, text := range []string{"1234", "1.2", "12.345", "BF-20.44x", "", "12:30"} {
		_, ok := amount(text)
		require.False(t, ok, text)
	}
	for text, want := range map[string]day.Day{
		"25 November 2026": "2026-11-25", "25. November 2026": "2026-11-25", "November 25, 2026": "2026-11-25", "1er juillet 2026": "", "25 juin 2026": "2026-06-25",
		"25. Dez. 2025": "2025-12-25", "2026-11-25": "2026-11-25", "25.11.26": "2026-11-25", "3rd March 2026": "2026-03-03",
	} {
		d, _, _ := date(lines(page(text).Words)[0], 0)
		require.Equal(t, want, d, text)
	}
}

// No words whatever make it fail, and nothing is proposed that does not stand there.
func TestAnyWords(t *testing.T) {
	rapid.Check(t, func(r *rapid.T) {
		words := rapid.SliceOfN(rapid.Custom(func(r *rapid.T) Word {
			x, y := rapid.IntRange(0, 1000).Draw(r, "x"), rapid.IntRange(0, 1000).Draw(r, "y")
			return Word{
				Text: rapid.SampledFrom([]string{"Invoice", "no.", "n°", "4190", "BF", "20440", "25.11.2026", "1,00", "Total", "EUR", "Net", "€", "-", "", "Rechnung", "IE9700011B", "Date", "DN", "5512"}).Draw(r, "text"),
				Box:  Box{rapid.IntRange(0, 3).Draw(r, "page"), x, y, x + rapid.IntRange(0, 90).Draw(r, "width"), y + rapid.IntRange(0, 30).Draw(r, "height")},
				Lift: rapid.IntRange(-20, 20).Draw(r, "lift"),
			}
		}), 0, 40).Draw(r, "words")
		p := Propose(Paper{Words: words}, known)
		all := ""
		for _, w := range words {
			all += plain(w.Text) + " "
		}
		for _, part := range strings.Fields(p.Number.Value) {
			require.Contains(r, all, plain(part))
		}
		require.LessOrEqual(r, p.Date.Value, known.Today)
	})
}

// A supplier is known by other names that it goes by, and by the number that we have there as its customer: both together are
// as good as a tax number, each alone is doubtful.
func TestASupplierIsKnownByOtherNamesAndOurNumberThere(t *testing.T) {
	with := known
	with.Suppliers = []Supplier{
		{Code: "BRACK", Name: "Brackwater Feeds", Others: []string{"BW Trading"}, CustomerNumber: "K 10-023"},
		{Code: "OSTRE", Name: "Ostrea Filtration", CustomerNumber: "10023"},
	}
	for text, want := range map[string]Read[string]{
		"BW Trading Ltd\nInvoice no. 77\nCustomer no.: K10023": {Value: "BRACK"},
		"BW Trading Ltd\nInvoice no. 77":                       {Value: "BRACK", Doubtful: true},
		"Invoice no. 77\nKundennummer 10023":                   {Value: "OSTRE", Doubtful: true},
		"Ostrea Filtration\nN° client 10 023":                  {Value: "OSTRE"},
		"Customer   Date\nK10-023    24.11.2026":               {Value: "BRACK", Doubtful: true},
		"Invoice no. 10023\nTotal 10.00":                       {}, // it is not called ours
	} {
		got := Propose(page(text), with).Supplier
		require.Equal(t, want.Value, got.Value, text)
		require.Equal(t, want.Doubtful, got.Doubtful, text)
	}
}

// Words of a page that lay askew on the glass stand beside each other by where they would stand on a straight one, and are shown where
// they are.
func TestAPageThatLeans(t *testing.T) {
	at := func(text string, left, top, lift int) Word {
		return Word{Text: text, Box: Box{1, left, top, left + 80, top + 12}, Lift: lift}
	}
	words := []Word{at("Total", 100, 300, -9), at("EUR", 500, 309, 0), at("24.60", 800, 317, 8), at("Net", 100, 317, -9), at("20.00", 800, 335, 8)}
	all := lines(words)
	require.Len(t, all, 2)
	require.Equal(t, "Total EUR 24.60", all[0].text())
	require.Equal(t, "Net 20.00", all[1].text())
	require.Equal(t, Box{1, 100, 300, 880, 329}, all[0].box())
	for i := range words {
		words[i].Lift = 0
	}
	require.NotEqual(t, "Total EUR 24.60", lines(words)[0].text(), "without it they are put together wrong")
}
