package demo

import (
	"bytes"
	"context"
	"net"
	"os"
	"path/filepath"
	"time"

	"github.com/emersion/go-imap/v2"
	"github.com/emersion/go-imap/v2/imapserver"
	"github.com/emersion/go-imap/v2/imapserver/imapmemserver"
)

// Whose the stand-in mailbox is, and with what it is opened.
const (
	MailboxUser   = "invoices"
	MailboxSecret = "skerry-point-mailbox"
)

// Mailbox is a stand-in for the company's mailbox: it holds the mails that lie in a folder, and answers by IMAP on this machine
// until the context ends. Its address is given.
func Mailbox(ctx context.Context, folder string) (string, error) {
	files, err := filepath.Glob(filepath.Join(folder, "*.eml"))
	if err != nil {
		return "", err
	}
	user := imapmemserver.NewUser(MailboxUser, MailboxSecret)
	if err := user.Create("INBOX", nil); err != nil {
		return "", err
	}
	for _, file := range files {
		content, err := os.ReadFile(file)
		if err != nil {
			return "", err
		}
		if _, err := user.Append("INBOX", mailLiteral{bytes.NewReader(content)}, &imap.AppendOptions{Time: time.Now()}); err != nil {
			return "", err
		}
	}
	memory := imapmemserver.New()
	memory.AddUser(user)
	server := imapserver.New(&imapserver.Options{
		NewSession: func(*imapserver.Conn) (imapserver.Session, *imapserver.GreetingData, error) {
			return memory.NewSession(), nil, nil
		},
		Caps:         imap.CapSet{imap.CapIMAP4rev1: {}},
		InsecureAuth: true, // on this machine alone
	})
	listener, err := (&net.ListenConfig{}).Listen(ctx, "tcp", "127.0.0.1:0")
	if err != nil {
		return "", err
	}
	context.AfterFunc(ctx, func() { _ = server.Close() })
	go func() { _ = server.Serve(listener) }()
	return listener.Addr().String(), nil
}

type mailLiteral struct{ *bytes.Reader }
