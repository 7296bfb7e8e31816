package prove

// This file proves that the lines of the bank's statements and the ledger's bank account say the same of what is on both.

// bank compares each line with what it was set against, and all of them with the ledger.
func (v *verification) bank() error {
	wrong, err := v.WrongStatements()
	if err := v.each(wrong, err, "statement ", "does not add up from its opening to its closing balance"); err != nil {
		return err
	}
	wrong, err = v.WrongBankLines()
	if err := v.each(wrong, err, "line ", "has another rest open than what it was set against leaves"); err != nil {
		return err
	}
	wrong, err = v.WrongBankBookings()
	if err := v.each(wrong, err, "entry ", "moved the bank by another sum than is said to wait for a statement"); err != nil {
		return err
	}
	booked, computed, err := v.BankProof()
	v.compare("what statements show of the bank", booked, computed)
	return err
}
