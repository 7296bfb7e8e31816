package money

import (
	"errors"
	"math/big"
	"slices"
)

// ErrNoWeights says that an amount cannot be split because nothing carries weight.
var ErrNoWeights = errors.New("nothing to split over")

// Split divides the amount over parts in proportion to their weights (zero or
// more, not all zero) by largest remainder, ties to the earlier part, so that the
// parts always add up to the amount (rules §1).
func Split(amount Amount, weights []Amount) ([]Amount, error) {
	var total int64
	for _, w := range weights {
		if w < 0 {
			return nil, ErrNoWeights
		}
		total += int64(w)
	}
	if total == 0 {
		return nil, ErrNoWeights
	}
	type rest struct {
		index int
		size  *big.Int
	}
	parts, rests := make([]Amount, len(weights)), make([]rest, len(weights))
	left := int64(amount.Abs())
	for i, w := range weights {
		exact := new(big.Int).Mul(big.NewInt(int64(amount.Abs())), big.NewInt(int64(w)))
		part, remainder := exact.QuoRem(exact, big.NewInt(total), new(big.Int))
		parts[i], rests[i] = Amount(part.Int64()), rest{i, remainder}
		left -= part.Int64()
	}
	slices.SortStableFunc(rests, func(a, b rest) int { return b.size.Cmp(a.size) })
	for _, r := range rests[:left] {
		parts[r.index]++
	}
	if amount < 0 {
		for i := range parts {
			parts[i] = -parts[i]
		}
	}
	return parts, nil
}
