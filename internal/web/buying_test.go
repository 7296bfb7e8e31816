package web

import (
	"encoding/json"
	"fmt"
	"io"
	"mime/multipart"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/web/contract"
)

// answered sends a body and gives the answer, whatever its status.
func answered[T any](t *testing.T, c *http.Client, url string, body any) (answer T) {
	t.Helper()
	content, err := json.Marshal(body)
	require.NoError(t, err)
	response, err := c.Post(url, "application/json", strings.NewReader(string(content)))
	require.NoError(t, err)
	defer response.Body.Close()
	got, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	require.Equal(t, http.StatusOK, response.StatusCode, string(got))
	require.NoError(t, json.Unmarshal(got, &answer))
	return answer
}

func capelin(quantity, price string) contract.OrderEntryLine {
	return contract.OrderEntryLine{Item: "BF-CAP", Quantity: quantity, Price: price, TaxRate: "0", Budget: "FEED"}
}

func brackwater(lines ...contract.OrderEntryLine) contract.OrderEntry {
	return contract.OrderEntry{Supplier: "BRACK", WantedOn: "2026-11-27", RequestedBy: "L. Marr", Lines: lines}
}

// What an order comes to is told while it is typed: agreed prices with their breaks, what applies to each line and where
// that comes from, what the supplier's rules say, and all that stands against it at once.
func TestAnOrderIsPreviewedOverTheWire(t *testing.T) {
	server := serveAquarium(t)
	c := signInAs(t, server, "ivo")
	bargain := capelin("600", "4.00")
	bargain.Discount, bargain.Charge = text("50.00"), text("1.50")
	p := answered[contract.OrderPreview](t, c, server.URL+"/api/orders/preview", brackwater(capelin("100", ""), capelin("500", ""), bargain))
	require.Equal(t, []string{"410.00", "1975.00", "2351.50"}, p.Nets, "4.10 below 500 and 3.95 from there on; 600 × 4.00 − 50.00 + 1.50")
	require.Equal(t, "3.95", *p.Lines[2].Agreed, "it was typed over")
	require.Empty(t, p.Problems)
	require.Equal(t, "with order and receipts, as the company sets it", p.Lines[0].Level)
	says := map[string]string{}
	for _, b := range p.Lines[0].Bounds {
		says[b.Kind+" "+b.Side] = b.Says
	}
	require.Equal(
		t,
		map[string]string{
			"delivery over":          "10 % is allowed on this item",
			"delivery under":         "10 % is allowed on this item",
			"invoiced_quantity over": "no limit is set, so nothing is allowed",
			"unit_price over":        "2 % is allowed for this supplier",
			"unit_price under":       "no limit is set, so any lower price passes",
		},
		says,
	)

	saturday := brackwater(capelin("10", ""))
	saturday.WantedOn = "2026-11-28"
	p = answered[contract.OrderPreview](t, c, server.URL+"/api/orders/preview", saturday)
	require.Equal(
		t,
		[]string{"Freight is charged below 1,500.00 EUR; 1,459.00 EUR more would make it free.", "Brackwater Feeds does not deliver on a Saturday."},
		p.Warnings,
	)
	require.Equal(t, "Brackwater Feeds takes no order below 100.00 EUR: 59.00 EUR are missing.", p.Problems[0].Sentence)

	bad := capelin("1,5,0", "")
	bad.Limits = &[]contract.Limit{{Kind: "delivery", Side: "over", Percent: text("-1")}, {Kind: "colour", Side: "over"}}
	bad.Budget = ""
	status, fields := submit(t, c, server.URL+"/api/orders", brackwater(bad))
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.ElementsMatch(
		t,
		[]string{"lines[0].quantity", "lines[0].limits[1]", "lines", "lines[0].limits[0]", "lines[0].budget", "lines[0].quantity"},
		fields,
		"what cannot be read and what else stands against it, at the same time",
	)
	for code, says := range map[string]string{"GREYS": "Nothing is ordered from Greyscar Diving for now: a hold says so. Who keeps suppliers can lift it.", "TARNH": "Tarn & Holm Lighting is not ordered from yet: it may be asked. Who keeps suppliers can change that."} {
		refusedAt := contract.OrderEntry{
			Supplier: code,
			WantedOn: "2026-11-27",
			Lines:    []contract.OrderEntryLine{{Description: "Work", Unit: "HUR", Quantity: "1", Price: "90", TaxRate: "0", Budget: "TECH"}},
		}
		p = answered[contract.OrderPreview](t, c, server.URL+"/api/orders/preview", refusedAt)
		require.Equal(t, says, p.Problems[0].Sentence)
	}
}

// An order is issued, sent, changed and acknowledged; what the supplier does not know yet is said until it is sent.
func TestAnOrderIsIssuedAndChangedOverTheWire(t *testing.T) {
	server := serveAquarium(t)
	c := signInAs(t, server, "ivo")
	line := capelin("500", "")
	line.Limits, line.Level = &[]contract.Limit{{Kind: "delivery", Side: "over", Absolute: text("12.5")}}, text("two_way")
	entry := brackwater(line)
	entry.Charges = &[]contract.PlannedCharge{{Kind: "freight", Description: "Van", Amount: "40.00", TaxRate: "23"}}
	number := answered[contract.Done](t, c, server.URL+"/api/orders", entry).Number
	place := server.URL + "/api/orders/" + number
	read := func() contract.OrderSheet { return fetch[contract.OrderSheet](t, c, place) }
	o := read()
	require.Equal(
		t,
		[]string{"two_way", "two_way", "with the order, set on this order line", "12.5"},
		[]string{o.Lines[0].OwnLevel, o.Lines[0].Level, o.Lines[0].LevelSays, *o.Lines[0].Limits[0].Absolute},
	)
	require.Equal(t, "12.5 kg is allowed on this order line", o.Lines[0].Over)
	require.Equal(t, "512.5", o.Lines[0].Most)
	require.Equal(t, []string{"issued", "none", "none"}, []string{o.State, string(o.Goods), string(o.Invoices)})
	require.Empty(t, o.Unsent, "never sent: there is nothing to compare with")

	letter := fetch[contract.Letter](t, c, place+"/letter?kind=order")
	require.Equal(t, "orders@brackwater.example", letter.To)
	require.Contains(t, letter.Text, "Dear Ines Quill,")
	sending := contract.SendEntry{Version: letter.Version, Kind: "order", Way: "mail", To: letter.To, Subject: letter.Subject, Text: letter.Text, Prices: true}
	answered[contract.Done](t, c, place+"/send", sending)
	response, err := c.Get(place + "/mails/1")
	require.NoError(t, err)
	mail, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	for _, part := range []string{"order-" + number + ".pdf", "order-" + number + ".xml", "To: <orders@brackwater.example>"} {
		require.Contains(t, string(mail), part)
	}
	stale := sending
	stale.Version = 77
	status, _ := submit(t, c, place+"/send", stale)
	require.Equal(t, http.StatusConflict, status, "what is sent is what was looked at")

	changed := entry
	again := capelin("400", "4.05")
	again.No = new(1)
	changed.Lines, changed.Charges = []contract.OrderEntryLine{again}, nil
	change := contract.OrderChange{Version: read().Version, Reason: "Two seals are away", Entry: changed}
	answered[contract.Done](t, c, place+"/change", change)
	o = read()
	require.Equal(t, []string{"Line 1: quantity 500 → 400", "Line 1: unit price 3.95 → 4.05", "planned charges 40.00 → 0.00"}, o.Unsent)
	require.Equal(t, "12.5", *o.Lines[0].Limits[0].Absolute, "the change did not speak of limits")
	require.Equal(t, "three_way", o.Lines[0].Level, "and took its own match level off")
	require.Len(t, o.Versions, 2)
	answered[contract.Done](t, c, place+"/answer", contract.AnswerEntry{Version: o.Version, Reference: "BW 9", PromisedOn: "2026-11-28"})
	require.Equal(t, "BW 9", read().Answers[0].Reference)
	answered[contract.Done](t, c, place+"/cancel", contract.Reason{Reason: "not wanted", Version: new(read().Version)})
	require.Equal(t, "cancelled", read().State)
	status, _ = submit(t, c, place+"/send", contract.SendEntry{Kind: "order", Way: "mail", To: letter.To, Subject: "x", Text: "x"})
	require.Equal(t, http.StatusUnprocessableEntity, status)
}

// Whom to remind is listed with whom to ask there.
func TestRemindersNameTheContact(t *testing.T) {
	server := serveAquarium(t)
	c := signInAs(t, server, "ivo")
	m := fetch[contract.Reminders](t, c, server.URL+"/api/reminders")
	require.NotEmpty(t, m.Late)
	contacts := map[string]string{}
	for _, p := range append(m.Late, m.Unanswered...) {
		contacts[p.Order.Supplier] = strings.TrimSpace(p.Contact.Name + " " + p.Contact.Phone)
	}
	require.Equal(t, "Ines Quill +353 99 010 2201", contacts["Brackwater Feeds"])
	require.Equal(t, "Karla Thode +49 99 0104 70", contacts["Ostrea Filtration"])
	require.Contains(t, contacts, "Saltmarsh Packaging")
	require.Empty(t, contacts["Saltmarsh Packaging"], "nobody with a mail address is known there")
}

// Lines are found by what is known of them, closed with a preview, found among the closed ones and opened again.
func TestLinesAreClosedOverTheWire(t *testing.T) {
	server := serveAquarium(t)
	c := signInAs(t, server, "ivo")
	list := func(query string) []contract.OpenLine {
		return fetch[contract.OpenLines](t, c, server.URL+"/api/lines?"+query).Rows
	}
	all := list("")
	for query, fits := range map[string]func(contract.OpenLine) bool{
		"supplier=OSTRE": func(l contract.OpenLine) bool { return l.Supplier == "Ostrea Filtration" }, "item=KRILL": func(l contract.OpenLine) bool { return l.Item == "KRILL" },
		"budget=WATER": func(l contract.OpenLine) bool { return l.Budget == "WATER" }, "by=marr": func(l contract.OpenLine) bool { return strings.Contains(l.By, "Marr") },
		"from=2026-11-10": func(l contract.OpenLine) bool { return l.IssuedOn >= "2026-11-10" }, "until=2026-11-10": func(l contract.OpenLine) bool { return l.IssuedOn <= "2026-11-10" },
		fmt.Sprintf("order=%d", all[0].Order): func(l contract.OpenLine) bool { return l.Order == all[0].Order },
	} {
		want := 0
		for _, l := range all {
			if fits(l) {
				want++
			}
		}
		require.Positive(t, want, query)
		got := list(query)
		require.Len(t, got, want, query)
		for _, l := range got {
			require.True(t, fits(l), "%s: %+v", query, l)
		}
	}
	line := list("item=SAND")[0]
	body := contract.ClosingEntry{
		Lines:    []contract.LineRef{{Order: line.Order, Line: line.Line}},
		Goods:    true,
		Invoices: true,
		Reason:   "the filter is not built",
	}
	plan := answered[contract.Closing](t, c, server.URL+"/api/lines/closing", body)
	require.Equal(t, line.Rest, plan.Releases[0].Quantity)
	require.Empty(t, plan.Problems)
	answered[contract.Closing](t, c, server.URL+"/api/lines/close", body)
	mine := fmt.Sprintf("item=SAND&order=%d", line.Order)
	require.Empty(t, list(mine))
	closed := list(mine + "&closed=true")
	require.Len(t, closed, 1)
	require.Equal(t, "the filter is not built", closed[0].Reason)
	require.Equal(t, []bool{true, true}, []bool{closed[0].ClosedGoods, closed[0].ClosedInvoices})
	body.Invoices = false
	answered[contract.Closing](t, c, server.URL+"/api/lines/reopen", body)
	require.Len(t, list(mine), 1)
	require.Len(t, list(mine+"&closed=true"), 1, "still closed to invoices")
}

// What a budget plans is ordered in parts; the plan says what is left of it. A draft is anybody's who buys until it becomes
// an order or is thrown away.
func TestPlansAndDraftsOverTheWire(t *testing.T) {
	server := serveAquarium(t)
	c := signInAs(t, server, "ivo")
	plan := func() contract.BudgetLine {
		t.Helper()
		for _, l := range fetch[contract.BudgetLines](t, c, server.URL+"/api/budget-lines").Rows {
			if l.Item == "SAND" {
				return l
			}
		}
		t.Fatal("no sand is planned")
		return contract.BudgetLine{}
	}
	before := plan()
	require.Equal(t, []string{"120", "0", "120"}, []string{before.Quantity, *before.Ordered, *before.Rest})
	line := contract.OrderEntryLine{Item: "SAND", Quantity: "50.5", Price: before.Price, TaxRate: "0", Budget: before.Budget, BudgetLine: before.No}
	entry := contract.OrderEntry{Supplier: "OSTRE", WantedOn: "2026-12-17", Lines: []contract.OrderEntryLine{line}}
	status, fields := submit(t, c, server.URL+"/api/orders", entry)
	require.Equal(t, []any{http.StatusUnprocessableEntity, []string{"lines[0].quantity"}}, []any{status, fields}, "bags are whole")
	entry.Lines[0].Quantity = "50"
	answered[contract.Done](t, c, server.URL+"/api/orders", entry)
	require.Equal(t, []string{"50", "70"}, []string{*plan().Ordered, *plan().Rest})

	kept := answered[contract.Done](t, c, server.URL+"/api/drafts", contract.DraftEntry{Supplier: "OSTRE", Entry: map[string]any{"note": "half"}})
	drafts := fetch[contract.Drafts](t, c, server.URL+"/api/drafts").Rows
	require.Equal(t, kept.Number, fmt.Sprint(drafts[0].Number), "the newest first")
	require.Equal(t, "half", fetch[contract.Draft](t, c, server.URL+"/api/drafts/"+kept.Number).Entry["note"])
	entry.Draft = &contract.DraftRef{Number: drafts[0].Number, Version: drafts[0].Version}
	entry.Lines[0].BudgetLine, entry.Lines[0].Quantity = nil, "1"
	answered[contract.Done](t, c, server.URL+"/api/orders", entry)
	for _, d := range fetch[contract.Drafts](t, c, server.URL+"/api/drafts").Rows {
		require.NotEqual(t, kept.Number, fmt.Sprint(d.Number), "it is an order now")
	}
	status, _ = submit(t, c, server.URL+"/api/drafts/"+kept.Number+"/discard", contract.DraftSeen{Version: 1})
	require.NotEqual(t, http.StatusOK, status)
}

// A table is saved, tried and taken in: the trial says row by row what would happen and changes nothing; with one row that
// cannot be, nothing is taken in.
func TestATableIsTriedOverTheWire(t *testing.T) {
	server := serveAquarium(t)
	c := signInAs(t, server, "rhea")
	response, err := c.Get(server.URL + "/api/tables/items?as=csv")
	require.NoError(t, err)
	saved, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	require.NoError(t, response.Body.Close())
	changed := strings.Replace(string(saved), "Filter sand 0.8 mm", "Filter sand 0.9 mm", 1) + "GRIT,Grit,XBG,yes,1,no,,,WATER,,OSTRE,OF-G\n"
	give := func(trial bool, content string) (int, contract.TableAnswer) {
		t.Helper()
		return uploaded[contract.TableAnswer](t, c, fmt.Sprintf("%s/api/tables/items?trial=%v", server.URL, trial), "items.csv", content)
	}
	outcomes := func(a contract.TableAnswer) map[string]int {
		all := map[string]int{}
		for _, r := range a.Rows {
			all[r.Outcome]++
		}
		return all
	}
	status, tried := give(true, changed)
	require.Equal(t, http.StatusOK, status)
	require.Equal(t, map[string]int{"same": 13, "changed": 1, "new": 1}, outcomes(tried))
	name := func() string { return fetch[contract.ItemSheet](t, c, server.URL+"/api/items/SAND").Name }
	require.Equal(t, "Filter sand 0.8 mm", name(), "a trial changes nothing")
	status, tried = give(true, changed+"BAD,,XBG,yes,1,no,,,NONE,,,\n")
	require.Equal(t, http.StatusOK, status)
	require.Equal(t, 1, tried.Wrong)
	_, tried = give(true, changed+"BAD,Bad,XBG,yes,0,no,,,WATER,,\n")
	require.Equal(t, 1, tried.Wrong, "a price is for more than nothing")
	require.Equal(t, "wrong", tried.Rows[15].Outcome)
	require.NotEmpty(t, tried.Rows[15].Says)
	status, _ = give(false, changed+"BAD,,XBG,yes,1,no,,,NONE,,,\n")
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.Equal(t, "Filter sand 0.8 mm", name(), "all or nothing")
	status, _ = give(false, changed)
	require.Equal(t, http.StatusOK, status)
	require.Equal(t, "Filter sand 0.9 mm", name())
	require.Equal(t, "OF-G", fetch[contract.ItemSheet](t, c, server.URL+"/api/items/GRIT").Sellers[0].Code)
	buyer := signInAs(t, server, "ivo")
	status, _ = uploaded[contract.TableAnswer](t, buyer, server.URL+"/api/tables/items?trial=true", "items.csv", changed)
	require.Equal(t, http.StatusForbidden, status)
}

// uploaded gives a file to an address of the contract; the answer is read where it is good.
func uploaded[T any](t *testing.T, c *http.Client, url, name, content string) (int, T) {
	t.Helper()
	var body strings.Builder
	form := multipart.NewWriter(&body)
	part, err := form.CreateFormFile("files", name)
	require.NoError(t, err)
	_, err = io.WriteString(part, content)
	require.NoError(t, err)
	require.NoError(t, form.Close())
	response, err := c.Post(url, form.FormDataContentType(), strings.NewReader(body.String()))
	require.NoError(t, err)
	defer response.Body.Close()
	got, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	var answer T
	if response.StatusCode == http.StatusOK {
		require.NoError(t, json.Unmarshal(got, &answer), string(got))
	}
	return response.StatusCode, answer
}
