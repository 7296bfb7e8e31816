package money

import (
	"slices"
	"strings"
)

// Currency is an ISO 4217 alphabetic code.
type Currency string

// ISO 4217 codes by their number of minor-unit places. Codes without minor units
// (metals, funds, test codes) are not money that an invoice can be paid in.
var places = func() map[Currency]int {
	table := map[Currency]int{}
	for n, codes := range []string{
		0: "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF",
		2: "AED AFN ALL AMD ANG AOA ARS AUD AWG AZN BAM BBD BDT BGN BMD BND BOB BOV BRL BSD BTN BWP BYN BZD CAD CDF " +
			"CHE CHF CHW CNY COP COU CRC CUC CUP CVE CZK DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GTQ GYD HKD " +
			"HNL HTG HUF IDR ILS INR IRR JMD KES KGS KHR KPW KYD KZT LAK LBP LKR LRD LSL MAD MDL MGA MKD MMK MNT MOP MRU MUR " +
			"MVR MWK MXN MXV MYR MZN NAD NGN NIO NOK NPR NZD PAB PEN PGK PHP PKR PLN QAR RON RSD RUB SAR SBD SCR SDG SEK SGD " +
			"SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TOP TRY TTD TWD TZS UAH USD USN UYU UZS VED VES WST XCD XCG YER " +
			"ZAR ZMW ZWG",
		3: "BHD IQD JOD KWD LYD OMR TND",
		4: "CLF UYW",
	} {
		for code := range strings.FieldsSeq(codes) {
			table[Currency(code)] = n
		}
	}
	return table
}()

// Known tells whether the code is a currency of ISO 4217.
func (c Currency) Known() bool { _, ok := places[c]; return ok }

// Places is the number of decimal places of the currency's minor unit; two where
// the code is not known, so that an unread currency can still be shown.
func (c Currency) Places() int {
	if n, ok := places[c]; ok {
		return n
	}
	return 2
}

// WithPlaces are the currencies whose minor unit has so many decimal places, in order of their codes.
func WithPlaces(n int) []Currency {
	var all []Currency
	for c, p := range places {
		if p == n {
			all = append(all, c)
		}
	}
	slices.Sort(all)
	return all
}
