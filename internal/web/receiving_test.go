package web

import (
	"fmt"
	"net/http"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/web/contract"
)

// count is a delivery of quantities in line order; "" leaves a line out.
func counted(order int64, note string, quantities ...string) contract.DeliveryEntry {
	e := contract.DeliveryEntry{Order: order, Note: note, Day: "2026-11-23", Place: "Cold store", Lines: []contract.DeliveryLine{}}
	for i, q := range quantities {
		if q != "" {
			e.Lines = append(e.Lines, contract.DeliveryLine{No: i + 1, Quantity: q})
		}
	}
	return e
}

// expectedOf is an open line of an order at the aquarium.
func expectedOf(t *testing.T, c *http.Client, base, item string) contract.OpenLine {
	t.Helper()
	for _, l := range fetch[contract.OpenLines](t, c, base+"/api/lines?item="+item).Rows {
		if l.Rest != "0" {
			return l
		}
	}
	t.Fatalf("no line of %s is open", item)
	return contract.OpenLine{}
}

// What a delivery would book is told while it is counted: by the item's conversions, with what would pass and what is too
// much; goods for a closed line are told apart.
func TestADeliveryIsPreviewedOverTheWire(t *testing.T) {
	server := serveAquarium(t)
	buyer, c := signInAs(t, server, "ivo"), signInAs(t, server, "lewis")
	line := expectedOf(t, c, server.URL, "CAPELIN") // 250 kg, 10 % either way, a carton is 12.5 kg
	require.Equal(t, "250", line.Rest)
	preview := func(l contract.DeliveryLine) contract.DeliveryPreview {
		t.Helper()
		e := counted(line.Order, "DN 9001")
		l.No = line.Line
		e.Lines = append(e.Lines, l)
		return answered[contract.DeliveryPreview](t, c, server.URL+"/api/deliveries/preview", e)
	}
	cartons := preview(contract.DeliveryLine{Quantity: "21", Unit: text("XCT")})
	require.Equal(t, "21 cartons × 12.5 = 262.5 kg. 12.5 kg over the order is 5 %; 10 % is allowed on this item.", cartons.Findings[0].Sentence)
	require.Equal(t, "1076.25", cartons.Value)
	over := preview(contract.DeliveryLine{Quantity: "24", Unit: text("XCT")})
	require.Equal(t, contract.Outside, over.Findings[0].Verdict)
	require.Equal(t, []string{"275", "25"}, []string{*over.Findings[0].Nearest, *over.Findings[0].Surplus}, "in kg, the order's unit")
	short := preview(contract.DeliveryLine{Quantity: "200", Close: new(true)})
	require.Equal(t, "225", *short.Findings[0].Nearest)
	require.Equal(t, contract.Waiting, preview(contract.DeliveryLine{Quantity: "200"}).Findings[0].Verdict)
	require.Contains(t, preview(contract.DeliveryLine{Quantity: "1", Unit: text("TNE")}).Problems[0].Sentence, "no conversion")
	unreadable := counted(line.Order, "DN 9001", "many")
	status, fields := submit(t, c, server.URL+"/api/deliveries", unreadable)
	require.Equal(t, []any{http.StatusUnprocessableEntity, []string{"lines[0].quantity"}}, []any{status, fields})

	answered[contract.Closing](
		t,
		buyer,
		server.URL+"/api/lines/close",
		contract.ClosingEntry{Lines: []contract.LineRef{{Order: line.Order, Line: line.Line}}, Goods: true, Reason: "r"},
	)
	require.Contains(t, preview(contract.DeliveryLine{Quantity: "10"}).Problems[0].Sentence, "Refuse them at the door, or have the buyer open the line again")
	e := counted(line.Order, "DN 9001")
	e.Lines = append(e.Lines, contract.DeliveryLine{No: line.Line, Quantity: "0", Refused: text("10")})
	kept := answered[contract.Booked](t, c, server.URL+"/api/deliveries", e)
	require.Equal(t, "0.00", kept.Value)
	sheet := fetch[contract.DeliverySheet](t, c, fmt.Sprintf("%s/api/deliveries/%d", server.URL, kept.Number))
	require.Equal(t, []string{"0", "10"}, []string{sheet.Lines[0].Quantity, sheet.Lines[0].Refused})
	details := ""
	for _, event := range sheet.Thread {
		details += event.Detail
	}
	require.Contains(t, details, "10 kg Capelin, loose refused at the door")
}

// A delivery is booked, goes back in part for credit, and the rest of the booking is undone; each is a document of its own
// with its entry, and nothing is sent back or undone twice.
func TestGoodsComeAndGoOverTheWire(t *testing.T) {
	server := serveAquarium(t)
	c := signInAs(t, server, "lewis")
	line := expectedOf(t, c, server.URL, "KRILL")
	e := counted(line.Order, "DN 9002")
	e.Lines = append(e.Lines, contract.DeliveryLine{No: line.Line, Quantity: "10", Before: text("999")})
	status, _ := submit(t, c, server.URL+"/api/deliveries", e)
	require.Equal(t, http.StatusConflict, status, "somebody booked meanwhile")
	e.Lines[0].Before = nil
	booked := answered[contract.Booked](t, c, server.URL+"/api/deliveries", e)
	require.NotNil(t, booked.Entry)
	status, fields := submit(t, c, server.URL+"/api/deliveries", e)
	require.Equal(t, []any{http.StatusConflict, []string{"note"}}, []any{status, fields}, "the same delivery note")

	back := contract.ReturnEntry{
		Delivery: &booked.Number,
		Day:      "2026-11-23",
		Outcome:  "credit",
		Reason:   "thawed",
		Lines:    []contract.ReturnLine{{No: line.Line, Quantity: "4"}},
	}
	plan := answered[contract.ReturnPreview](t, c, server.URL+"/api/returns/preview", back)
	require.Equal(t, []string{"153.60", "0.00", "EUR"}, []string{plan.Value, plan.Credit, plan.Currency}, "4 × 38.40, of which nothing is invoiced")
	returned := answered[contract.Booked](t, c, server.URL+"/api/returns", back)
	back.Lines[0].Quantity = "7"
	plan = answered[contract.ReturnPreview](t, c, server.URL+"/api/returns/preview", back)
	require.Contains(t, plan.Problems[0].Sentence, "still holds 6, so 7 cannot go back")
	reversed := answered[contract.Booked](t, c, fmt.Sprintf("%s/api/deliveries/%d/reverse", server.URL, booked.Number), contract.Reason{Reason: "wrong pallet"})
	status, _ = submit(t, c, fmt.Sprintf("%s/api/deliveries/%d/reverse", server.URL, booked.Number), contract.Reason{Reason: "again"})
	require.Equal(t, http.StatusUnprocessableEntity, status)
	sheet := fetch[contract.DeliverySheet](t, c, fmt.Sprintf("%s/api/deliveries/%d", server.URL, booked.Number))
	kinds := map[string]int64{}
	for _, a := range sheet.Against {
		kinds[a.Kind] = a.Number
	}
	require.Equal(t, map[string]int64{"return": returned.Number, "reversal": reversed.Number}, kinds)
	require.False(t, slices.Contains(sheet.May, "reverseDelivery"))
	after := fetch[contract.OpenLines](t, c, fmt.Sprintf("%s/api/lines?item=KRILL&order=%d", server.URL, line.Order)).Rows
	require.Len(t, after, 1)
	require.NotEqual(t, line.Rest, after[0].Rest, "what went back for credit is not expected again")
}

// A notice is entered and read, started from, and taken back.
func TestNoticesOverTheWire(t *testing.T) {
	server := serveAquarium(t)
	c := signInAs(t, server, "lewis")
	line := expectedOf(t, c, server.URL, "SAND")
	entry := contract.NoticeEntry{
		Order:      line.Order,
		Reference:  "N 1",
		ExpectedOn: "2026-11-25",
		Carrier:    "Van",
		Lines:      []contract.NoticeEntryLine{{No: line.Line, Quantity: "0"}},
	}
	status, fields := submit(t, c, server.URL+"/api/notices", entry)
	require.Equal(t, http.StatusUnprocessableEntity, status)
	require.NotEmpty(t, fields)
	entry.Lines[0].Quantity = "20"
	made := answered[contract.Noticed](t, c, server.URL+"/api/notices", entry)
	door := fetch[contract.Door](t, c, server.URL+"/api/door")
	var mine *contract.NoticeName
	for i, n := range door.Notices {
		if n.Order == line.Order {
			mine = &door.Notices[i]
		}
	}
	require.NotNil(t, mine)
	require.Equal(t, made.Number, mine.Number)
	e := counted(line.Order, "LS 77")
	e.Lines, e.Notice = []contract.DeliveryLine{{No: line.Line, Quantity: "20"}}, &mine.Number
	answered[contract.Booked](t, c, server.URL+"/api/deliveries", e)
	status, _ = submit(t, c, fmt.Sprintf("%s/api/notices/%d/withdraw", server.URL, mine.Number), contract.Reason{Reason: "r"})
	require.NotEqual(t, http.StatusOK, status, "it has arrived")
	e.Note = "LS 78"
	status, _ = submit(t, c, server.URL+"/api/deliveries", e)
	require.Equal(t, http.StatusConflict, status, "a notice is started from once")
}
