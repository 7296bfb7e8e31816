package browser

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/people"
)

// TestNumbersAsTyped: quantities are typed as people write them, worked out, and echoed before they count.
func TestNumbersAsTyped(t *testing.T) {
	t.Parallel()
	h := Open(t)
	path := fmt.Sprintf("/receiving/%d", OrderOf(t, h, "DN 5438"))
	type typed struct{ text, echo string }
	check := func(d *Desk, cases []typed) {
		for _, c := range cases {
			d.Fill("#now-2", c.text)
			if c.echo == "" {
				d.Until(`document.querySelector("#now-2-said").innerText === ""`, "nothing to echo for "+c.text)
			} else {
				d.SeeIn("#now-2-said", c.echo)
			}
		}
	}
	receiver := Sit(t, h)
	receiver.Refusing(422) // what is typed is asked about as it is
	receiver.SignIn("lewis", path)
	receiver.Focus("#now-2")
	check(
		receiver,
		[]typed{
			{"237.5", ""},
			{"1,250", ""},
			{"1250", ""},
			{"12*3.5", "= 42"},
			{"10%", "= 25"},
			{"100+50-25.5", "= 124.5"},
			{"100/8", "= 12.5"},
			{"1/3", "Not a number"},
			{"1/0", "Not a number"},
			{"12,5", "Not a number"},
			{"1.2.3", "Not a number"},
			{"x", "Not a number"},
			{"0.0000001", "Not a number"},
			{".5", "= 0.5"},
		},
	)

	_, err := people.Add(
		context.Background(),
		h.App,
		Colleague(t, h, "rhea"),
		people.Entry{Login: "jan", Name: "Jan Vloed", Password: "skerry-point-demo", Lasting: true, Comma: true, Roles: []string{"receiver"}},
	)
	require.NoError(t, err)
	comma := Sit(t, h)
	comma.Refusing(422)
	comma.SignIn("jan", path)
	comma.Focus("#now-2")
	check(comma, []typed{{"237,5", ""}, {"1.250", ""}, {"12*3,5", "= 42"}, {"12.5", "Not a number"}, {"1.000,5+1", "= 1.001,5"}})
	comma.SeeIn(".thread", "6.085,00 EUR")
}

// TestWhatAColleagueDid: a receiver whose line somebody booked meanwhile is told, and what was typed stays.
func TestWhatAColleagueDid(t *testing.T) {
	t.Parallel()
	h := Open(t)
	order := OrderOf(t, h, "DN 5438")
	first, second := Sit(t, h), Sit(t, h)
	for _, d := range []*Desk{first, second} {
		d.SignIn("lewis", fmt.Sprintf("/receiving/%d", order))
		d.Fill("#delivery-note", "DN 551"+map[bool]string{true: "2", false: "3"}[d == first])
		d.Fill("#now-1", "20")
	}
	first.Main()
	first.SeeIn(".notice", "is booked")
	second.Refusing(409)
	second.Main()
	second.See("somebody booked meanwhile, 80 are received now and not 60")
	require.Equal(t, "20", second.Value("#now-1"))
	second.Until("!document.querySelector('.bar .btn-primary').disabled", "it can be booked again")
	second.Main()
	second.SeeIn(".notice", "is booked")
}

// TestNarrowWindows: the side folds away, nothing is cut off, at two widths and at twice the size.
func TestNarrowWindows(t *testing.T) {
	t.Parallel()
	h := Open(t)
	clerk := Sit(t, h)
	clerk.SignIn("nora", "/")
	held := InvoiceOf(t, h, "BF-20418")
	require.Equal(t, trade.Held, held.State)
	for _, width := range []int64{1440, 1024, 640} { // 640 is 1280 at 200 %
		clerk.Width(width)
		for path, shown := range map[string]string{
			fmt.Sprintf("/invoices/%d", held.Number): "Brackwater Feeds",
			"/holds":                                 "Several at once",
			"/payments":                              "Brackwater Feeds",
			fmt.Sprintf("/orders/%d", held.Order):    "Brackwater Feeds",
		} {
			clerk.Open(path)
			clerk.See(shown)
			clerk.Until("document.documentElement.scrollWidth <= innerWidth + 1", fmt.Sprintf("%s fits %d", path, width))
			clerk.Accessible()
		}
	}
}
