package say

import "lagoon/internal/core/pay"

// Certainty says how certain it is that money leaves.
func Certainty(c pay.Certainty) string {
	return map[pay.Certainty]string{
		pay.InRun: "in a run", pay.Released: "released", pay.Verified: "verified", pay.Held: "held or waiting", pay.Received: "received, not invoiced",
		pay.Ordered: "ordered", pay.Agreed: "agreed ahead",
	}[c]
}
