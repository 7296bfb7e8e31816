package papertext

import (
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"codeberg.org/go-pdf/fpdf"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/reading"
)

// sent is an invoice as a supplier prints it.
type sent struct {
	supplier          reading.Supplier
	number, order, dn string
	date              day.Day
	net, tax, total   string
}

var suppliers = []reading.Supplier{
	{Code: "BRACK", Name: "Brackwater Feeds", TaxID: "IE9700011B", IBANs: []string{"IE52BRCK99020011112222"}},
	{Code: "OSTRE", Name: "Ostrea Filtration", TaxID: "DE970001301", IBANs: []string{"DE95990200330000444455"}},
	{Code: "HALDE", Name: "Halden Salt Works", TaxID: "NO970001201", IBANs: []string{"NO8399020022221"}},
	{Code: "MIRRE", Name: "Mirren Acrylics", TaxID: "FR97000140188"},
}

// known are the orders 4100 to 4199, in turn of the four suppliers.
var known = reading.Known{
	Suppliers: suppliers, Today: "2026-11-29",
	Order: func(number string) (string, bool) {
		var n int
		if _, err := fmt.Sscanf(number, "%d", &n); err != nil || len(number) != 4 || n < 4100 || n > 4199 {
			return "", false
		}
		return suppliers[n%4].Code, true
	},
	Note: func(_, note string) bool { return note == "DN 5512" || note == "LS 88120" },
}

// layouts are ways in which suppliers print: each draws one with x and y in millimetres.
var layouts = map[string]func(at func(x, y float64, text string), s sent){
	"labels and values": func(at func(x, y float64, text string), s sent) {
		at(20, 20, s.supplier.Name)
		at(20, 26, "Harbour Row 9, Port Corran")
		at(20, 32, "VAT number "+s.supplier.TaxID)
		at(120, 50, "Invoice no.: "+s.number)
		at(120, 56, "Invoice date: "+s.date.Time().Format("2 January 2006"))
		at(120, 62, "Your order: "+s.order)
		at(120, 68, "Due date: 24 December 2026")
		at(20, 100, "40 cartons of goods")
		at(170, 100, s.net)
		at(20, 120, "Net amount")
		at(170, 120, s.net)
		at(20, 126, "VAT 23 %")
		at(170, 126, s.tax)
		at(20, 134, "Total due EUR")
		at(170, 134, s.total)
		at(20, 260, "IBAN "+first(s.supplier.IBANs))
	},
	"heads over values": func(at func(x, y float64, text string), s sent) {
		at(80, 15, "INVOICE")
		at(20, 30, "Invoice number")
		at(70, 30, "Date")
		at(110, 30, "Your order")
		at(150, 30, "Customer")
		at(20, 35, s.number)
		at(70, 35, s.date.Time().Format("02/01/2006"))
		at(110, 35, s.order)
		at(150, 35, "100234")
		at(20, 60, "Description")
		at(170, 60, "Amount")
		at(20, 66, "Filter sand, delivery note "+s.dn)
		at(170, 66, s.net)
		at(120, 90, "Subtotal")
		at(170, 90, s.net)
		at(120, 96, "Tax")
		at(170, 96, s.tax)
		at(120, 104, "Grand total")
		at(170, 104, "EUR "+s.total)
		at(20, 270, s.supplier.Name+" · "+s.supplier.TaxID+" · "+first(s.supplier.IBANs))
	},
	"auf Deutsch": func(at func(x, y float64, text string), s sent) {
		at(20, 20, s.supplier.Name+" GmbH")
		at(20, 60, "Rechnung Nr. "+s.number)
		at(150, 60, "Datum: "+s.date.Time().Format("02.01.2006"))
		at(20, 70, "Ihre Bestellung "+s.order+" vom 02.11.2026")
		at(20, 76, "Lieferschein "+s.dn)
		at(20, 100, "Aktivkohle 80 kg")
		at(170, 100, german(s.net))
		at(120, 120, "Zwischensumme netto")
		at(170, 120, german(s.net))
		at(120, 126, "MwSt 19 %")
		at(170, 126, german(s.tax))
		at(120, 134, "Rechnungsbetrag EUR")
		at(170, 134, german(s.total))
		at(20, 144, "Zahlbar bis 24.12.2026 ohne Abzug")
		at(20, 270, "USt-IdNr. "+s.supplier.TaxID+"  IBAN "+first(s.supplier.IBANs))
	},
	"en français": func(at func(x, y float64, text string), s sent) {
		at(20, 20, s.supplier.Name)
		at(20, 26, "TVA "+s.supplier.TaxID)
		at(20, 50, "Facture n° "+s.number)
		at(120, 50, "Date de facture "+s.date.Time().Format("02/01/2006"))
		at(20, 58, "Votre commande "+s.order)
		at(20, 90, "Panneau acrylique")
		at(170, 90, german(s.net))
		at(120, 110, "Total HT")
		at(170, 110, german(s.net))
		at(120, 116, "TVA 20 %")
		at(170, 116, german(s.tax))
		at(120, 124, "Total TTC EUR")
		at(170, 124, german(s.total))
	},
}

func first(all []string) string {
	if len(all) == 0 {
		return ""
	}
	return all[0]
}

// german is an amount as it is written there and in France.
func german(text string) string {
	whole, cents, _ := strings.Cut(text, ".")
	if n := len(whole); n > 3 {
		whole = whole[:n-3] + "." + whole[n-3:]
	}
	return whole + "," + cents
}

func printed(t testing.TB, draw func(at func(x, y float64, text string), s sent), s sent) []byte {
	t.Helper()
	p := fpdf.New("P", "mm", "A4", "")
	p.AddPage()
	p.SetFont("Helvetica", "", 10)
	latin := p.UnicodeTranslatorFromDescriptor("")
	draw(func(x, y float64, text string) { p.Text(x, y, latin(text)) }, s)
	var out bytes.Buffer
	require.NoError(t, p.Output(&out))
	return out.Bytes()
}

func invoices() (all []sent) {
	numbers := []string{"BF-20440", "2026/118", "77-0192", "RE 88120", "INV000451", "F2026-77"}
	for i := range 24 {
		order := 4100 + i*3
		net := money.Amount(120_00 + i*97_35)
		tax := net / 4
		all = append(all, sent{
			supplier: suppliers[order%4], number: numbers[i%len(numbers)], order: fmt.Sprint(order), dn: []string{"DN 5512", "LS 88120"}[i%2],
			date: day.Day("2026-11-14").Add(i % 14), net: net.Text("EUR"), tax: tax.Text("EUR"), total: (net + tax).Text("EUR"),
		})
	}
	return all
}

// Everything that suppliers print in these ways is read, and nothing wrong is taken for sure.
func TestPapersAreRead(t *testing.T) {
	reader := New()
	for name, draw := range layouts {
		t.Run(name, func(t *testing.T) {
			for _, s := range invoices() {
				paper, err := reader.Read(t.Context(), printed(t, draw, s))
				require.NoError(t, err)
				p := reading.Propose(paper, known)
				require.Equal(t, s.supplier.Code, p.Supplier.Value, s)
				require.Equal(t, s.number, p.Number.Value, s)
				require.Equal(t, s.date, p.Date.Value, s)
				require.Len(t, p.Orders, 1, s)
				require.Equal(t, s.order, p.Orders[0].Value)
				require.False(t, p.Orders[0].Doubtful)
				require.Equal(t, money.Entered(s.total), p.Total.Value, s)
				require.False(t, p.Total.Doubtful, s)
				require.Equal(t, "EUR", p.Currency)
			}
		})
	}
}

// A page that is only drawn is looked at; what eyes alone have read is doubtful unless it adds up.
func TestDrawnPagesAreLookedAt(t *testing.T) {
	s := invoices()[4]
	folder := t.TempDir()
	file := filepath.Join(folder, "a.pdf")
	require.NoError(t, os.WriteFile(file, printed(t, layouts["labels and values"], s), 0o600))
	require.NoError(t, exec.CommandContext(t.Context(), "pdftoppm", "-q", "-png", "-r", "150", "-singlefile", file, filepath.Join(folder, "a")).Run())
	picture, err := os.ReadFile(filepath.Join(folder, "a.png"))
	require.NoError(t, err)
	scan := fpdf.New("P", "mm", "A4", "")
	scan.AddPage()
	scan.RegisterImageOptionsReader("a", fpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(picture))
	scan.ImageOptions("a", 0, 0, 210, 297, false, fpdf.ImageOptions{}, 0, "")
	var out bytes.Buffer
	require.NoError(t, scan.Output(&out))
	for _, content := range [][]byte{picture, out.Bytes()} {
		paper, err := New().Read(t.Context(), content)
		require.NoError(t, err)
		require.True(t, paper.Seen)
		p := reading.Propose(paper, known)
		require.Equal(t, s.supplier.Code, p.Supplier.Value)
		require.Equal(t, s.order, p.Orders[0].Value)
		require.Equal(t, money.Entered(s.total), p.Total.Value)
		require.True(t, p.Number.Doubtful)
	}
}

func TestWhatCannotBeRead(t *testing.T) {
	for content, words := range map[string]string{
		"%PDF-1.4\nnothing": "damaged or protected",
		"Good morning":      "Only a PDF or a picture",
	} {
		_, err := New().Read(t.Context(), []byte(content))
		var no *fault.Fault
		require.ErrorAs(t, err, &no)
		require.Contains(t, no.Sentence, words)
	}
	require.Empty(t, Missing(), "what the tests need is installed")
}

// How much a page leans is told by its longer lines, whatever single words and short lines do.
func TestHowAPageLeans(t *testing.T) {
	row := func(line, left, top int, text string) string {
		return fmt.Sprintf("5\t1\t1\t1\t%d\t1\t%d\t%d\t60\t20\t90\t%s\n", line, left, top, text)
	}
	page := "1\t1\t0\t0\t0\t0\t0\t0\t1000\t1000\t-1\t\n"
	said := page + row(1, 100, 100, "Total") + row(1, 500, 108, "EUR") + row(1, 840, 115, "24.60") +
		row(2, 100, 200, "Net") + row(2, 500, 208, "EUR") + row(2, 840, 215, "20.00") +
		row(3, 100, 300, "far") + row(3, 140, 390, "off") + row(3, 180, 300, "mark") + row(4, 900, 400, "alone")
	words := table([]byte(said), 1)
	require.Equal(t, []int{-8, 1, 8}, []int{words[0].Lift, words[1].Lift, words[2].Lift})
	require.Equal(t, 100, words[0].Top, "they are shown where they are")
	straight := table([]byte(page+row(1, 100, 100, "Total")+row(1, 500, 100, "EUR")+row(1, 840, 100, "24.60")+row(2, 10, 10, "x")), 1)
	require.Zero(t, straight[0].Lift)
	require.Zero(t, table([]byte(page+row(1, 100, 100, "Total")), 1)[0].Lift, "a word alone tells nothing")
}
