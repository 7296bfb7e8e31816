package masters

// This file sets up how mails and files come in by themselves.

import (
	"cmp"
	"context"
	"fmt"
	"net"
	"net/netip"
	"slices"
	"strconv"
	"strings"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/store"
)

// WayInEntry is one way in as it is typed.
type WayInEntry struct {
	store.WayIn
	Secret string // of a mailbox; empty: the one that is kept
}

// Secrets keeps the secret of a mailbox beside the books, and gives it back to nobody.
type Secrets interface {
	// Kept tells whether there is a secret that was typed for just this mailbox.
	Kept(store.WayIn) bool
	// Keep keeps it for this mailbox, in place of any other.
	Keep(w store.WayIn, secret string) error
}

// How often a mailbox is looked into.
const (
	usualRound    = 30 * time.Second
	shortestRound = 10 * time.Second
	longestRound  = time.Hour
)

// CheckWayIn makes a way in of what was typed, or tells what is wrong with it. What is off may be half typed.
func CheckWayIn(e WayInEntry, secrets Secrets) (store.WayIn, error) {
	w, faults := e.WayIn, fault.Faults{}
	w.Address, w.Login, w.Box = strings.TrimSpace(w.Address), strings.TrimSpace(w.Login), strings.TrimSpace(w.Box)
	refuse := func(field, sentence string, operands ...any) {
		faults = append(faults, fault.New(fault.Invalid, field, sentence, operands...))
	}
	switch w.Way {
	case store.MailByFolder:
		return store.WayIn{Way: w.Way, Live: w.Live}, nil
	case store.MailBySMTP:
		if w.Live && !onThisMachine(w.Address) {
			refuse("address", "Enter an address of this machine with a port, as 127.0.0.1:2525.")
		}
		return store.WayIn{Way: w.Way, Live: w.Live, Address: w.Address}, faults.OrNil()
	case store.MailByIMAP:
	default:
		return w, fault.New(fault.Invalid, "way", "Mails come in by imap, smtp or folder.")
	}
	w.Box, w.Security, w.Every = cmp.Or(w.Box, "INBOX"), cmp.Or(w.Security, "tls"), cmp.Or(w.Every, usualRound).Truncate(time.Second)
	if !slices.Contains([]string{"tls", "starttls", "none"}, w.Security) {
		refuse("security", "A mailbox is reached by TLS, by STARTTLS, or on this machine by neither.")
	}
	if w.Every < shortestRound || w.Every > longestRound {
		refuse("every", "A mailbox is looked into every %d to %d seconds.", int(shortestRound.Seconds()), int(longestRound.Seconds()))
	}
	if w.Since != "" {
		if _, err := day.Parse(string(w.Since)); err != nil {
			refuse("since", "That is no day.")
		}
	}
	if w.Live {
		if host, port, err := net.SplitHostPort(w.Address); err != nil || host == "" || !isPort(port) {
			refuse("address", "Enter the server and its port, as mail.example:993.")
		} else if w.Security == "none" && !onThisMachine(w.Address) {
			refuse("security", "A mailbox on another machine is read by TLS or STARTTLS alone.")
		}
		if w.Login == "" {
			refuse("login", "Enter whose mailbox it is.")
		}
		if e.Secret == "" && !secrets.Kept(w) {
			refuse("secret", "Enter the password of this mailbox, or its access token.")
		}
	}
	return w, faults.OrNil()
}

// onThisMachine tells whether an address with a port is one of this machine alone.
func onThisMachine(address string) bool {
	host, port, err := net.SplitHostPort(address)
	if err != nil || !isPort(port) {
		return false
	}
	at, err := netip.ParseAddr(host)
	return host == "localhost" || (err == nil && at.IsLoopback())
}

func isPort(text string) bool {
	n, err := strconv.ParseUint(text, 10, 16)
	return err == nil && n > 0
}

// SaveWayIn sets up one way in. The secret goes nowhere into the books, nor into the record; that it was typed is recorded.
// Where that cannot be kept after all, the way in says that it has none until it is typed again.
func SaveWayIn(ctx context.Context, a *act.App, c act.Command, e WayInEntry, secrets Secrets) (Saved, error) {
	w, err := CheckWayIn(e, secrets)
	if err != nil {
		return Saved{}, err
	}
	saved, err := act.Perform(ctx, a, act.SaveWayIn, c, func(work *act.Work) (Saved, error) {
		before, err := work.WayIn(w.Way)
		if err != nil {
			return Saved{}, err
		}
		if err := work.PutWayIn(w); err != nil {
			return Saved{}, err
		}
		return Saved{Code: w.Way}, work.RecordAs("company", work.Ours.Name, wayInRecord(before, false), wayInRecord(w, e.Secret != ""))
	})
	if err == nil && w.Way == store.MailByIMAP && e.Secret != "" {
		err = secrets.Keep(w, e.Secret)
	}
	return saved, err
}

// recordedWay is what the record says of a way in.
type recordedWay struct{ In, Setting string }

func wayInRecord(w store.WayIn, secret bool) recordedWay {
	said := "off"
	if w.Live {
		said = "on"
	}
	if w.Way == store.MailBySMTP && w.Address != "" {
		said += ", " + w.Address
	}
	if w.Way == store.MailByIMAP && w.Address != "" {
		said += fmt.Sprintf(", %s at %s (%s), folder %s, every %s", w.Login, w.Address, w.Security, w.Box, w.Every)
		if w.Since != "" {
			said += ", from " + string(w.Since)
		}
		if w.Token {
			said += ", by access token"
		}
		if w.ReadOnly {
			said += ", nothing is marked"
		}
	}
	if secret {
		said += ", a new secret"
	}
	return recordedWay{In: w.Way, Setting: said}
}

// ReadWaysIn are the ways in as they are set up.
func ReadWaysIn(ctx context.Context, a *act.App) ([]store.WayIn, error) {
	return act.Read(ctx, a, func(r act.Reading) ([]store.WayIn, error) {
		all := make([]store.WayIn, 0, len(store.WaysIn))
		for _, way := range store.WaysIn {
			w, err := r.WayIn(way)
			if err != nil {
				return nil, err
			}
			all = append(all, w)
		}
		return all, nil
	})
}
