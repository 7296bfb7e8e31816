package web

// This file slows down guessing at the door without keeping honest people out.

import (
	"maps"
	"net"
	"sync"
	"time"

	"lagoon/internal/core/fault"
)

// door counts failures by sign-in name and by address; whoever comes with a browser that
// signed in before is counted by that browser alone. After some failures each further try
// waits twice as long, up to a bound, and never rests for good. A try counts as failed
// until it has passed, so that many at once gain nothing.
//
// Few may be looked at a time, since a password costs much to try: who comes from a known
// browser does not stand in the line of the others, and a line that is full is said to be.
type door struct {
	mu       sync.Mutex
	failed   map[string]failure
	strange  chan struct{} // room in the line of strangers
	familiar chan struct{} // room in the line of known browsers
	one, two chan struct{} // who is looked at, of each
}

type failure struct {
	count int
	last  time.Time
	until time.Time
}

// How many failures are free, and how long a further try then waits at most.
const (
	freeByName    = 3
	freeByBrowser = 6
	freeByAddress = 20
	longest       = time.Minute
	forgotten     = 30 * time.Minute // after so long without another try
	mostCounted   = 10_000           // names, addresses and browsers that are remembered at a time
	line          = 5                // who may wait, of strangers and of known browsers each
)

func newDoor() *door {
	return &door{
		failed:   map[string]failure{},
		strange:  make(chan struct{}, line),
		familiar: make(chan struct{}, line),
		one:      make(chan struct{}, 1),
		two:      make(chan struct{}, 1),
	}
}

// try is somebody at the door.
type try struct {
	login, address string
	browser        string // that signed this name in before; empty: none
}

func (t try) counts() map[string]int {
	if t.browser != "" {
		return map[string]int{"browser " + t.browser: freeByBrowser}
	}
	return map[string]int{"name " + t.login: freeByName, "address " + network(t.address): freeByAddress}
}

// network is an address as it is counted: whoever has one of IPv6 has a whole net.
func network(address string) string {
	if ip := net.ParseIP(address); ip != nil && ip.To4() == nil {
		return ip.Mask(net.CIDRMask(64, 128)).String()
	}
	return address
}

// begin counts a try, or says how long it must wait.
func (d *door) begin(t try, now time.Time) time.Duration {
	d.mu.Lock()
	defer d.mu.Unlock()
	counts := t.counts()
	for key := range counts {
		if wait := d.failed[key].until.Sub(now); wait > 0 {
			return wait
		}
	}
	if len(d.failed)+len(counts) > mostCounted { // a flood drives out only what does not wait
		maps.DeleteFunc(d.failed, func(_ string, f failure) bool { return f.until.Before(now) })
	}
	if len(d.failed)+len(counts) > mostCounted {
		return longest
	}
	for key, free := range counts {
		f := d.failed[key]
		if now.Sub(f.last) > forgotten {
			f = failure{}
		}
		f.count, f.last = f.count+1, now
		if f.count > free {
			f.until = now.Add(min(longest, time.Second<<min(f.count-free, 10)))
		}
		d.failed[key] = f
	}
	return 0
}

// passed forgets the failures of who came in; of an address only this try, since others
// come from there as well.
func (d *door) passed(t try) {
	d.mu.Lock()
	defer d.mu.Unlock()
	for key, free := range t.counts() {
		f := d.failed[key]
		if free == freeByAddress && f.count > 1 {
			f.count, f.until = f.count-1, time.Time{}
			d.failed[key] = f
		} else {
			delete(d.failed, key)
		}
	}
}

// enter waits until it is the try's turn to be looked at, or refuses it at once. The
// caller leaves when it was.
func (d *door) enter(t try) (leave func(), err error) {
	if wait := d.begin(t, time.Now()); wait > 0 {
		wait = max(wait.Round(time.Second), time.Second)
		return nil, fault.Wait(wait, "password", "Too many attempts. Wait %s and try again.", wait)
	}
	room, turn := d.strange, d.one
	if t.browser != "" {
		room, turn = d.familiar, d.two
	}
	select {
	case room <- struct{}{}:
	default:
		return nil, fault.Wait(
			2*time.Second,
			"password",
			"Too many people are signing in just now. Wait a moment and try again.",
		)
	}
	turn <- struct{}{}
	return func() { <-turn; <-room }, nil
}
