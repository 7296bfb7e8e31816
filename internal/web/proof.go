package web

// This file has the books proved beside the work.

import (
	"context"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/prove"
	"lagoon/internal/store"
	"lagoon/internal/web/contract"
)

// mostDifferences of the books are told.
const mostDifferences = 100

// GetProof tells whether the books prove themselves, as they were proved last.
func (h *handlers) GetProof(ctx context.Context, _ contract.GetProofRequestObject) (contract.GetProofResponseObject, error) {
	s := h.prover.State()
	last, err := act.Read(ctx, h.app, func(r act.Reading) (store.AuditRow, error) { return r.LastAudit() })
	answer := contract.GetProof200JSONResponse{
		Running: s.Running, Failed: s.Failed, Differences: each(first(s.Proof.Differences, mostDifferences), func(d prove.Difference) contract.ProofDifference {
			return contract.ProofDifference{Document: d.Document, Text: d.Text}
		}),
	}
	if s.Running {
		answer.Began = some(s.Began.UTC().Format(time.RFC3339))
	}
	if !s.Ended.IsZero() && s.Failed == "" {
		answer.At, answer.Found = some(s.Ended.UTC().Format(time.RFC3339)), len(s.Proof.Differences)
		answer.Since = max(0, last.Seq-s.Proof.AuditRows)
	}
	return answer, err
}

// ProveBooks begins to prove the books.
func (h *handlers) ProveBooks(context.Context, contract.ProveBooksRequestObject) (contract.ProveBooksResponseObject, error) {
	h.prover.Begin()
	return contract.ProveBooks200JSONResponse{}, nil
}

func first[T any](all []T, most int) []T { return all[:min(len(all), most)] }
