package browser

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/core/trade"
	"lagoon/internal/jobs/people"
)

// TestNumbersAsTyped: quantities are typed as people write them, worked out, and echoed before they count.
func TestNumbersAsTyped(t *testing.T) {
	t.Parallel()
	h := open(t)
	path := fmt.Sprintf("/receiving/%d", orderOf(t, h, "DN 5438"))
	type typed struct{ text, echo string }
	check := func(d *desk, cases []typed) {
		for _, c := range cases {
			d.fill("#now-2", c.text)
			if c.echo == "" {
				d.until(`document.querySelector("#now-2-said").innerText === ""`, "nothing to echo for "+c.text)
			} else {
				d.seeIn("#now-2-said", c.echo)
			}
		}
	}
	receiver := sit(t, h)
	receiver.refusing(422) // what is typed is asked about as it is
	receiver.signIn("lewis")
	receiver.open(path)
	receiver.focus("#now-2")
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
		h.app,
		act.Command{Actor: admin(t, h)},
		people.Entry{Login: "jan", Name: "Jan Vloed", Password: "skerry-point-demo", Lasting: true, Comma: true, Roles: []string{"receiver"}},
	)
	require.NoError(t, err)
	comma := sit(t, h)
	comma.refusing(422)
	comma.signIn("jan")
	comma.open(path)
	comma.focus("#now-2")
	check(comma, []typed{{"237,5", ""}, {"1.250", ""}, {"12*3,5", "= 42"}, {"12.5", "Not a number"}, {"1.000,5+1", "= 1.001,5"}})
	comma.seeIn(".thread", "6.085,00 EUR")
}

func admin(t *testing.T, h place) act.Actor {
	t.Helper()
	actor, err := h.app.ActorByLogin(context.Background(), "rhea")
	require.NoError(t, err)
	return actor
}

// TestWhatAColleagueDid: a receiver whose line somebody booked meanwhile is told, and what was typed stays.
func TestWhatAColleagueDid(t *testing.T) {
	t.Parallel()
	h := open(t)
	order := orderOf(t, h, "DN 5438")
	first, second := sit(t, h), sit(t, h)
	for _, d := range []*desk{first, second} {
		d.signIn("lewis")
		d.open(fmt.Sprintf("/receiving/%d", order))
		d.fill("#delivery-note", "DN 551"+map[bool]string{true: "2", false: "3"}[d == first])
		d.fill("#now-1", "20")
	}
	first.main()
	first.seeIn(".notice", "is booked")
	second.refusing(409)
	second.main()
	second.see("somebody booked meanwhile, 80 are received now and not 60")
	require.Equal(t, "20", second.value("#now-1"))
	second.until("!document.querySelector('.bar .btn-primary').disabled", "it can be booked again")
	second.main()
	second.seeIn(".notice", "is booked")
}

// TestNarrowWindows: the side folds away, nothing is cut off, at two widths and at twice the size.
func TestNarrowWindows(t *testing.T) {
	t.Parallel()
	h := open(t)
	clerk := sit(t, h)
	clerk.signIn("nora")
	held := invoiceOf(t, h, "BF-20418")
	require.Equal(t, trade.Held, held.State)
	for _, width := range []int64{1440, 1024, 640} { // 640 is 1280 at 200 %
		clerk.width(width)
		for path, shown := range map[string]string{
			fmt.Sprintf("/invoices/%d", held.Number): "Brackwater Feeds",
			"/holds":                                 "Several at once",
			"/payments":                              "Brackwater Feeds",
			fmt.Sprintf("/orders/%d", held.Order):    "Brackwater Feeds",
		} {
			clerk.open(path)
			clerk.see(shown)
			clerk.until("document.documentElement.scrollWidth <= innerWidth + 1", fmt.Sprintf("%s fits %d", path, width))
			clerk.accessible()
		}
	}
}
