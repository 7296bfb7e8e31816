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

// watch goes round again and again until the context ends, with a pause in between. What goes wrong is logged as what; how each
// round went is told, where somebody asks.
func watch(ctx context.Context, log *slog.Logger, pause time.Duration, what string, round func(context.Context) error, told func(error)) {
	trouble := trouble{log: log}
	for {
		err := round(ctx)
		trouble.tell(ctx, what, err)
		if told != nil && ctx.Err() == nil {
			told(err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(pause):
		}
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
