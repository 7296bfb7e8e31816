package iso20022

import (
	"strconv"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// MostName is how long a name may be in the schemes for credit transfers, shorter than
// what the message could hold.
const MostName = 70

// mostRemittance is how long the one unstructured remittance information may be.
const mostRemittance = 140

// Letters that do not fall apart into a basic one and marks.
var letters = strings.NewReplacer(
	"ß",
	"ss",
	"ẞ",
	"SS",
	"æ",
	"ae",
	"Æ",
	"AE",
	"œ",
	"oe",
	"Œ",
	"OE",
	"ø",
	"o",
	"Ø",
	"O",
	"ł",
	"l",
	"Ł",
	"L",
	"đ",
	"d",
	"Đ",
	"D",
	"ð",
	"d",
	"Ð",
	"D",
	"þ",
	"th",
	"Þ",
	"TH",
	"ı",
	"i",
	"ħ",
	"h",
	"Ħ",
	"H",
	"&",
	"+",
	"’",
	"'",
	"‘",
	"'",
	"“",
	"'",
	"”",
	"'",
	"\"",
	"'",
	"–",
	"-",
	"—",
	"-",
	"_",
	"-",
	"€",
	"EUR",
	"£",
	"GBP",
	"\u00a0",
	" ",
	"@",
	"(at)",
	"*",
	".",
	";",
	",",
	"=",
	"-",
	"\\",
	"/",
	"|",
	"/",
	"[",
	"(",
	"]",
	")",
	"{",
	"(",
	"}",
	")",
	"<",
	"(",
	">",
	")",
	"!",
	".",
	"%",
	" pct",
	"#",
	"No ",
	"~",
	"-",
	"`",
	"'",
	"´",
	"'",
)

// Text writes a text in the characters that the schemes for credit transfers allow (a–z,
// A–Z, 0–9, / - ? : ( ) . , ' + and the blank), as near to what it says as they let it, and
// at most so many of them. What has no likeness becomes a full stop.
func Text(text string, most int) string {
	var b strings.Builder
	for _, c := range norm.NFD.String(letters.Replace(text)) {
		switch {
		case unicode.Is(unicode.Mn, c):
		case c < 128 && (unicode.IsLetter(c) || unicode.IsDigit(c)), strings.ContainsRune("/-?:().,'+ ", c):
			b.WriteRune(c)
		case unicode.IsSpace(c):
			b.WriteByte(' ')
		default:
			b.WriteByte('.')
		}
	}
	plain := strings.Join(strings.Fields(b.String()), " ")
	if len(plain) > most {
		plain = strings.TrimSpace(plain[:most])
	}
	return plain
}

// Remittance puts references into the one text that a payment carries; what does not fit
// is counted.
func Remittance(references []string) string {
	text := ""
	for i, r := range references {
		r = Text(r, 60)
		more := len(references) - i - 1
		room := mostRemittance
		if more > 0 {
			room -= len(" and 9999 more")
		}
		next := r
		if text != "" {
			next = text + ", " + r
		}
		if len(next) > room {
			return Text(text+" and "+strconv.Itoa(more+1)+" more", mostRemittance)
		}
		text = next
	}
	return text
}
