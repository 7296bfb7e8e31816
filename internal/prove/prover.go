package prove

// This file proves the books beside the work, as somebody asks for it.

import (
	"context"
	"sync"
	"time"

	"lagoon/internal/act"
)

// Prover proves the books beside the work, once at a time, and keeps what came of it until Lagoon ends: it is a proof of just what
// stood in the books then.
type Prover struct {
	app    *act.App
	ending <-chan struct{} // nil: never

	mu    sync.Mutex
	state State
}

// State is how far the proving is.
type State struct {
	Running bool
	Began   time.Time // of the run that is under way, or was last; zero: none since Lagoon was started
	Ended   time.Time // of the last that came to an end
	Failed  string    // why it came to none; empty: it did
	Proof   Proof
}

// NewProver makes one that stops when a channel is closed.
func NewProver(a *act.App, ending <-chan struct{}) *Prover { return &Prover{app: a, ending: ending} }

// State tells how far it is.
func (p *Prover) State() State {
	p.mu.Lock()
	defer p.mu.Unlock()
	return p.state
}

// Begin begins to prove the books as they are now; where that is under way it goes on. Whoever waits asks for its
// state.
func (p *Prover) Begin() {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.state.Running {
		return
	}
	p.state.Running, p.state.Began = true, p.app.Now()
	ctx, cancel := context.WithCancel(context.Background())
	done := make(chan struct{})
	go func() {
		select {
		case <-p.ending:
		case <-done:
		}
		cancel()
	}()
	go func() {
		defer close(done)
		proof, err := Books(ctx, p.app)
		p.mu.Lock()
		defer p.mu.Unlock()
		p.state.Running, p.state.Ended, p.state.Failed = false, p.app.Now(), ""
		if err != nil {
			p.app.Log.Error("the books could not be proved", "error", err)
			p.state.Failed = "The books could not be read to the end."
			return
		}
		p.state.Proof = proof
	}()
}
