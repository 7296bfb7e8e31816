// Package mailbox brings in what comes from outside by itself: by IMAP from a mailbox, by SMTP to a receiver of its own, or
// through a folder that is watched. Each hands over what came and forgets it only once it is kept.
package mailbox

import (
	"context"
	"log/slog"
	"time"
)

// Mails takes mails in.
type Mails interface {
	// TakeMail keeps a mail; a mail that is here already is kept. A refusal (a fault) says that it never can be; any other
	// error that it may be tried again.
	TakeMail(ctx context.Context, way string, raw []byte) error
	// Seen tells whether a mail of that id and size is here, so that it need not be fetched.
	Seen(ctx context.Context, messageID string, size int64) (bool, error)
}

// every waits between two rounds until the context ends; it tells whether to go on.
func every(ctx context.Context, pause time.Duration) bool {
	timer := time.NewTimer(pause)
	defer timer.Stop()
	select {
	case <-ctx.Done():
		return false
	case <-timer.C:
		return true
	}
}

// trouble tells of what went wrong, once until something else does.
type trouble struct {
	log  *slog.Logger
	last string
}

func (t *trouble) tell(ctx context.Context, what string, err error) {
	if err == nil || ctx.Err() != nil {
		t.last = ""
		return
	}
	if said := what + ": " + err.Error(); said != t.last {
		t.last = said
		t.log.Error(what, "error", err)
	}
}
