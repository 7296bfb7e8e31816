package say

import (
	"strings"

	"golang.org/x/text/language"
	"golang.org/x/text/language/display"
)

// Address is where somebody is, as it was entered; Country is its ISO 3166 code.
type Address struct{ Name, Street, City, Region, Postcode, Country string }

// Lines are the lines of the address as its country writes it (common practice). Its
// country stands last, in capitals as letters abroad carry it (Universal Postal Union),
// and is left out where it is home, the country it is sent from.
func (a Address) Lines(home string) []string {
	town := strings.TrimSpace(a.City + " " + a.Postcode)
	below := []string{a.Region}
	switch a.Country {
	case "DE", "FR", "AT", "CH", "NL", "BE", "ES", "IT", "DK", "NO", "SE", "FI", "PL":
		town = strings.TrimSpace(a.Postcode + " " + a.City)
	case "US", "CA", "AU":
		town, below = strings.TrimSpace(strings.TrimSuffix(a.City+", "+a.Region, ", ")+" "+a.Postcode), nil
	case "GB", "IE":
		town, below = a.City, []string{a.Region, a.Postcode}
	}
	lines := append([]string{a.Name, a.Street, town}, below...)
	if a.Country != home {
		lines = append(lines, strings.ToUpper(Country(a.Country)))
	}
	var filled []string
	for _, l := range lines {
		if l = strings.TrimSpace(l); l != "" {
			filled = append(filled, l)
		}
	}
	return filled
}

// Country is the English name of an ISO 3166 code, or the code where there is none.
func Country(code string) string {
	region, err := language.ParseRegion(code)
	if err != nil || !region.IsCountry() {
		return code
	}
	return display.English.Regions().Name(region)
}
