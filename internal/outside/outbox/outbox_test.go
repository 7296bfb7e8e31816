package outbox

import (
	"bufio"
	"context"
	"crypto/tls"
	"crypto/x509"
	"fmt"
	"io"
	"net"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// server is a post office that takes one mail and tells what it was given.
func server(t *testing.T, refuse bool) (string, <-chan []string) {
	t.Helper()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = listener.Close() })
	said := make(chan []string, 1)
	go func() {
		c, err := listener.Accept()
		if err != nil {
			return
		}
		defer func() { _ = c.Close() }()
		var lines []string
		_, _ = fmt.Fprint(c, "220 ready\r\n")
		in, data := bufio.NewScanner(c), false
		for in.Scan() {
			text := in.Text()
			lines = append(lines, text)
			switch {
			case data && text != ".":
				continue
			case data:
				data = false
				_, _ = fmt.Fprint(c, "250 taken\r\n")
			case text == "DATA":
				data = true
				_, _ = fmt.Fprint(c, "354 go on\r\n")
			case strings.HasPrefix(text, "RCPT") && refuse:
				_, _ = fmt.Fprint(c, "550 no such person\r\n")
			case text == "QUIT":
				_, _ = fmt.Fprint(c, "221 bye\r\n")
				said <- lines
				return
			default:
				_, _ = fmt.Fprint(c, "250 yes\r\n")
			}
		}
		said <- lines
	}()
	return listener.Addr().String(), said
}

func TestSMTP(t *testing.T) {
	address, said := server(t, false)
	copies := t.TempDir()
	s := SMTP{Address: address, Plain: true, Copies: Folder{copies}}
	require.NoError(t, s.Send(t.Context(), "12", "orders@skerry.example", "desk@brackwater.example", []byte("Subject: x\r\n\r\n.hello\r\n")))
	lines := <-said
	require.Contains(t, lines, "MAIL FROM:<orders@skerry.example>")
	require.Contains(t, lines, "RCPT TO:<desk@brackwater.example>")
	require.Contains(t, lines, "..hello", "a dot at the start of a line is not the end")
	kept, err := os.ReadFile(filepath.Join(copies, "12.eml"))
	require.NoError(t, err)
	require.Contains(t, string(kept), ".hello")
}

// A server without TLS is given nothing, unless it is said that it may go without; the
// copy is kept, so that nothing is lost.
func TestSMTPWithoutTLSIsRefused(t *testing.T) {
	address, _ := server(t, false)
	s := SMTP{Address: address, User: "orders", Secret: "never sent", Copies: Folder{t.TempDir()}}
	require.ErrorContains(t, s.Send(t.Context(), "12", "a@b.example", "c@d.example", []byte("x")), "offers no TLS")
	require.FileExists(t, filepath.Join(s.Copies.Path, "12.eml"))
}

// On the port for it TLS begins with the first byte.
func TestSMTPOverTLSFromTheFirstByte(t *testing.T) {
	plain, said := server(t, false)
	at := httptest.NewUnstartedServer(nil) // for its certificate
	at.StartTLS()
	defer at.Close()
	listener, err := tls.Listen("tcp", "127.0.0.1:0", at.TLS)
	require.NoError(t, err)
	defer listener.Close() //nolint:errcheck // of a test
	go func() {
		c, err := listener.Accept()
		if err != nil {
			return
		}
		defer func() {
			if next, err := listener.Accept(); err == nil {
				_ = next.(*tls.Conn).Handshake() // which the client refuses
			}
		}()
		behind, err := net.Dial("tcp", plain)
		if err != nil {
			return
		}
		go func() { _, _ = io.Copy(behind, c) }()
		_, _ = io.Copy(c, behind)
	}()
	roots := x509.NewCertPool()
	roots.AddCert(at.Certificate())
	s := SMTP{Address: "127.0.0.1:465", Roots: roots, Copies: Folder{t.TempDir()}, dial: func(ctx context.Context, network, _ string) (net.Conn, error) {
		return (&net.Dialer{}).DialContext(ctx, network, listener.Addr().String())
	}}
	require.NoError(t, s.Send(t.Context(), "12", "a@b.example", "c@d.example", []byte("Subject: x\r\n\r\nhello\r\n")))
	require.Contains(t, <-said, "hello")
	s.Roots = x509.NewCertPool()
	require.ErrorContains(t, s.Send(t.Context(), "13", "a@b.example", "c@d.example", []byte("x")), "certificate")
}

func TestSMTPRefuses(t *testing.T) {
	address, _ := server(t, true)
	s := SMTP{Address: address, Plain: true, Copies: Folder{t.TempDir()}}
	require.ErrorContains(t, s.Send(t.Context(), "12", "a@b.example", "c@d.example", []byte("x")), "no such person")
	require.Error(t, SMTP{Address: "nowhere", Copies: s.Copies}.Send(t.Context(), "1", "a@b.example", "c@d.example", nil))
}

// A server that takes the connection and says nothing, or begins and then says nothing, is given up.
func TestSMTPThatHangs(t *testing.T) {
	for _, says := range []string{"", "220 ready\r\n"} {
		listener, err := net.Listen("tcp", "127.0.0.1:0")
		require.NoError(t, err)
		held := make(chan net.Conn, 1)
		go func() {
			if c, err := listener.Accept(); err == nil {
				_, _ = fmt.Fprint(c, says)
				held <- c
			}
		}()
		s := SMTP{Address: listener.Addr().String(), Copies: Folder{t.TempDir()}, Patience: 50 * time.Millisecond}
		require.Error(t, s.Send(t.Context(), "12", "a@b.example", "c@d.example", []byte("x")))
		require.NoError(t, (<-held).Close())
		require.NoError(t, listener.Close())
		kept, err := os.ReadFile(filepath.Join(s.Copies.Path, "12.eml"))
		require.NoError(t, err)
		require.Equal(t, "x", string(kept), "the copy is kept all the same")
	}
}
