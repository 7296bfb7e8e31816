package money

import "math/bits"

// wide is a signed 128-bit integer in sign and magnitude: wide enough for the
// product of two 64-bit factors, which is the largest value the rules form.
type wide struct {
	neg    bool
	hi, lo uint64
}

func product(a, b int64) wide {
	hi, lo := bits.Mul64(magnitude(a), magnitude(b))
	return wide{neg: (a < 0) != (b < 0) && (hi|lo) != 0, hi: hi, lo: lo}
}

func magnitude(a int64) uint64 {
	if a < 0 {
		return -uint64(a)
	}
	return uint64(a)
}

func (w wide) negated() wide {
	w.neg = !w.neg && (w.hi|w.lo) != 0
	return w
}

func (w wide) plus(v wide) wide {
	if w.neg == v.neg {
		lo, carry := bits.Add64(w.lo, v.lo, 0)
		hi, _ := bits.Add64(w.hi, v.hi, carry)
		return wide{w.neg, hi, lo}
	}
	if w.smallerThan(v) {
		w, v = v, w
	}
	lo, borrow := bits.Sub64(w.lo, v.lo, 0)
	hi, _ := bits.Sub64(w.hi, v.hi, borrow)
	return wide{w.neg && (hi|lo) != 0, hi, lo}
}

// smallerThan compares magnitudes only.
func (w wide) smallerThan(v wide) bool {
	return w.hi < v.hi || (w.hi == v.hi && w.lo < v.lo)
}

func (w wide) compare(v wide) int {
	if w.neg != v.neg {
		if w.neg {
			return -1
		}
		return 1
	}
	order := 0
	if w.smallerThan(v) {
		order = -1
	} else if v.smallerThan(w) {
		order = 1
	}
	if w.neg {
		return -order
	}
	return order
}

// halfAway divides by d > 0 and rounds half away from zero.
func (w wide) halfAway(d uint64) (int64, error) {
	quotient, remainder, err := w.divide(d)
	if err != nil {
		return 0, err
	}
	if remainder >= d-remainder {
		quotient++
	}
	return signed(w.neg, quotient)
}

// towardZero divides by d > 0 and drops the remainder; exact tells whether there was none.
func (w wide) towardZero(d uint64) (value int64, exact bool, err error) {
	quotient, remainder, err := w.divide(d)
	if err != nil {
		return 0, false, err
	}
	value, err = signed(w.neg, quotient)
	return value, remainder == 0, err
}

func (w wide) divide(d uint64) (quotient, remainder uint64, err error) {
	if w.hi >= d { // the quotient would not fit 64 bits
		return 0, 0, ErrTooLarge
	}
	quotient, remainder = bits.Div64(w.hi, w.lo, d)
	return quotient, remainder, nil
}

func signed(neg bool, m uint64) (int64, error) {
	if m > uint64(Largest) {
		return 0, ErrTooLarge
	}
	if neg {
		return -int64(m), nil
	}
	return int64(m), nil
}
