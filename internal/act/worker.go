package act

// This file wakes the worker, and waits a moment for what it moves.

import (
	"context"
	"time"
)

// patience is how long a command waits for what it woke.
const patience = 1500 * time.Millisecond

// ParseStamp reads an instant as it is stored.
func ParseStamp(at string) (time.Time, error) { return time.Parse("2006-01-02T15:04:05.000Z", at) }

// nudge tells the worker that something woke, and gives it a moment, so that
// whoever looks next sees what has moved. Without a worker nothing is waited for.
func (a *App) nudge(ctx context.Context) {
	if !a.Worker.Load() {
		return
	}
	a.Woken.Ring()
	deadline, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	for {
		left, err := Read(deadline, a, func(r Reading) (int64, error) { return r.CountWakes(r.Instant()) })
		if err != nil || left == 0 {
			return
		}
		select {
		case <-time.After(4 * time.Millisecond):
		case <-deadline.Done():
			return
		}
	}
}

// Bell tells a worker that there is something to do.
type Bell chan struct{}

// Ring rings the bell, and does not wait for anybody to hear it.
func (b Bell) Ring() {
	select {
	case b <- struct{}{}:
	default:
	}
}
