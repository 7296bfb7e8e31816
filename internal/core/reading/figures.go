package reading

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

var (
	amountShape = regexp.MustCompile(`^[(\-−]?(?:[A-Z]{3}|[€$£])?[\-−]?(\d{1,3}(?:[.,' ’]\d{3})+|\d+)([.,]\d{2})?(?:[A-Z]{3}|[€$£])?\)?[\-−]?$`)
	dayShape    = regexp.MustCompile(`^(\d{1,2})[./\-](\d{1,2})[./\-](\d{4}|\d{2})$`)
	isoShape    = regexp.MustCompile(`^(\d{4})-(\d{2})-(\d{2})$`)
)

// amount reads an amount with two decimals; without them it is none, since any number would be one.
func amount(text string) (money.Decimal, bool) {
	m := amountShape.FindStringSubmatch(strings.ToUpper(text))
	if m == nil || m[2] == "" {
		return 0, false
	}
	whole := strings.Map(func(r rune) rune {
		if r >= '0' && r <= '9' {
			return r
		}
		return -1
	}, m[1])
	sign := ""
	if strings.ContainsAny(text, "-−(") {
		sign = "-"
	}
	d, err := money.ParseDecimal(sign + whole + "." + m[2][1:])
	return d, err == nil
}

var months = map[string]int{
	"JAN": 1, "FEB": 2, "MAR": 3, "MÄR": 3, "MRZ": 3, "APR": 4, "MAY": 5, "MAI": 5, "JUN": 6, "JUL": 7, "AUG": 8, "SEP": 9, "OCT": 10, "OKT": 10,
	"NOV": 11, "DEC": 12, "DEZ": 12, "DÉC": 12, "FÉV": 2, "FEV": 2, "AVR": 4, "AOÛ": 8, "AOU": 8, "JUI": 0,
}

// month reads a month's name in the languages of the letters; 0 where it is none.
func month(word string) int {
	name := []rune(plain(word))
	if len(name) < 3 {
		return 0
	}
	if text := string(name); strings.HasPrefix(text, "JUIN") {
		return 6
	} else if strings.HasPrefix(text, "JUIL") {
		return 7
	}
	return months[string(name[:3])]
}

// date reads a day that begins at a word of a line, and how many words it takes. It is doubtful where day and month could be
// each other.
func date(l line, at int) (d day.Day, words int, doubtful bool) {
	word := strings.Trim(l[at].Text, ",;:()")
	if m := isoShape.FindStringSubmatch(word); m != nil {
		return dayOf(m[1], m[2], m[3]), 1, false
	}
	if m := dayShape.FindStringSubmatch(word); m != nil {
		first, _ := strconv.Atoi(m[1])
		second, _ := strconv.Atoi(m[2])
		switch {
		case second > 12: // as the United States write it
			return dayOf(m[3], m[1], m[2]), 1, false
		default:
			return dayOf(m[3], m[2], m[1]), 1, strings.Contains(word, "/") && first <= 12 && first != second
		}
	}
	if at+2 < len(l) {
		second, third := strings.Trim(l[at+1].Text, ".,"), strings.Trim(l[at+2].Text, ".,;")
		number := func(text string) string { return strings.TrimRight(strings.Trim(text, ".,"), "stndrh") }
		if n := month(second); n != 0 && len(third) == 4 {
			return dayOf(third, strconv.Itoa(n), number(word)), 3, false
		}
		if n := month(word); n != 0 && len(third) == 4 {
			return dayOf(third, strconv.Itoa(n), number(second)), 3, false
		}
	}
	return "", 0, false
}

// dayOf is a day of the calendar, or empty.
func dayOf(year, month, of string) day.Day {
	if len(year) == 2 {
		year = "20" + year
	}
	m, err1 := strconv.Atoi(month)
	n, err2 := strconv.Atoi(of)
	if err1 != nil || err2 != nil {
		return ""
	}
	d, err := day.Parse(fmt.Sprintf("%s-%02d-%02d", year, m, n))
	if err != nil {
		return ""
	}
	return d
}
