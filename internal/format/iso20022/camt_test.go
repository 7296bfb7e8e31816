package iso20022

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
)

var statement = Statement{
	Message: "S-1", ID: "2026-11-24", Created: time.Date(2026, 11, 24, 18, 0, 0, 0, time.UTC), IBAN: "GB82WEST12345698765432", Currency: "EUR",
	From: "2026-11-24", To: "2026-11-24", Opening: 100_000, Closing: 90_348,
	Lines: []StatementLine{
		{Day: "2026-11-24", Amount: -9_748, EndToEnd: "LGN-301-1", Reference: "B1", Name: "Brackwater Feeds", IBAN: "DE89370400440532013000", Text: "BF-20418", Code: "PMNT-ICDT-ESCT"},
		{Day: "2026-11-24", Amount: -404, Charge: 400, EndToEnd: "LGN-301-2", Reference: "B2", Code: "PMNT-ICDT-XBCT"},
		{Day: "2026-11-24", Amount: -500, Reference: "B3", Text: "November", Code: "ACMT-MDOP-CHRG"},
		{Day: "2026-11-24", Amount: 1_000, EndToEnd: "LGN-300-9", Reference: "B4", Name: "Halden", Text: "77", Code: "PMNT-ICDT-RRTN", Returned: true, Reason: "AC04 Closed account number"},
	},
}

func TestStatementsAreReadAsTheyAreWritten(t *testing.T) {
	for _, notification := range []bool{false, true} {
		want := statement
		if want.Notification = notification; notification {
			want.Opening, want.Closing, want.From, want.To = 0, 0, "", ""
		}
		file, err := WriteStatement(want)
		require.NoError(t, err)
		require.True(t, IsAccountReport(file))
		got, err := ReadStatements(file)
		require.NoError(t, err)
		want.Created = time.Time{}
		require.Equal(t, []Statement{want}, got)
	}
	require.True(t, statement.Lines[2].IsCharge())
	require.False(t, statement.Lines[0].IsCharge())
	require.False(t, IsAccountReport([]byte("<Document/>")))
}

// What the versions write differently, and what banks book in one.
func TestOlderVersionsAndBookingsOfSeveral(t *testing.T) {
	const entry = `<Ntry><Amt Ccy="EUR">30.00</Amt><CdtDbtInd>DBIT</CdtDbtInd><Sts>%s</Sts><BookgDt><DtTm>2026-11-24T10:00:00</DtTm></BookgDt><NtryDtls>
	<TxDtls><Refs><EndToEndId>A</EndToEndId></Refs><AmtDtls><TxAmt><Amt Ccy="EUR">%s</Amt></TxAmt></AmtDtls><RltdPties><Cdtr><Nm>Halden</Nm></Cdtr></RltdPties></TxDtls>
	<TxDtls><Refs><EndToEndId>NOTPROVIDED</EndToEndId></Refs><AmtDtls><TxAmt><Amt Ccy="EUR">20.00</Amt></TxAmt></AmtDtls></TxDtls></NtryDtls></Ntry>`
	file := func(closing, entries string) []byte {
		return fmt.Appendf(nil, `<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.02"><BkToCstmrStmt><GrpHdr><MsgId>M</MsgId></GrpHdr><Stmt><Id>1</Id><Acct><Id><IBAN>GB82 WEST 1234 5698 7654 32</IBAN></Id></Acct>
	<Bal><Tp><CdOrPrtry><Cd>PRCD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">10.00</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-23</Dt></Dt></Bal>
	<Bal><Tp><CdOrPrtry><Cd>CLBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">%s</Amt><CdtDbtInd>DBIT</CdtDbtInd><Dt><Dt>2026-11-24</Dt></Dt></Bal>%s</Stmt></BkToCstmrStmt></Document>`, closing, entries)
	}
	got, err := ReadStatements(file("20.00", fmt.Sprintf(entry, "BOOK", "10.00")))
	require.NoError(t, err)
	require.Equal(t, []StatementLine{
		{Day: "2026-11-24", Amount: -1_000, EndToEnd: "A", Name: "Halden"}, {Day: "2026-11-24", Amount: -2_000},
	}, got[0].Lines)
	require.Equal(t, "GB82WEST12345698765432", got[0].IBAN)
	got, err = ReadStatements(file("20.00", fmt.Sprintf(entry, "BOOK", "11.00"))) // its parts do not come to it
	require.NoError(t, err)
	require.Equal(t, []StatementLine{{Day: "2026-11-24", Amount: -3_000}}, got[0].Lines)
	_, err = ReadStatements(file("20.00", fmt.Sprintf(entry, "PDNG", "10.00"))) // it is not booked
	require.True(t, fault.Is(err, fault.Invalid), err)
	require.Contains(t, err.Error(), "does not add up")
	for _, wrong := range []string{"hello", `<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.02"><BkToCstmrStmt/></Document>`,
		`<Document xmlns="x"/>`, strings.Replace(string(file("20.00", "")), "CLBD", "XPCD", 1), strings.Replace(string(file("20.00", "")), "EUR", "USD", 1)} {
		_, err := ReadStatements([]byte(wrong))
		require.True(t, fault.Is(err, fault.Invalid), "%s: %v", wrong, err)
	}
}
