package act

import (
	"lagoon/internal/core/fault"
	"lagoon/internal/store"
)

// MailToDo reads a mail that is somebody's turn still, by its number.
func (r Reading) MailToDo(number int64) (store.Mail, error) {
	mail, err := r.MailByNumber(number)
	if err != nil {
		return mail, Found(err, "There is no mail %d.", number)
	}
	if mail.State != store.MailOpen {
		return mail, fault.New(fault.Refused, "", "Mail %d is dealt with already.", number)
	}
	return mail, nil
}
