package browser

import (
	"context"
	"net/http"
	"net/http/httptest"
	"sync"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/storage"
	"github.com/chromedp/chromedp"
)

// address is where one test's Lagoon stands after the other's, with the tabs that were open there: a tab that has read
// the scripts of an address once opens its pages in half the time.
type address struct {
	server *httptest.Server
	mu     sync.RWMutex // held for reading while a request is answered
	stands http.Handler
	tabs   []tab // which nobody uses
}

type tab struct {
	ctx   context.Context
	close context.CancelFunc
}

var addresses struct {
	sync.Mutex
	free []*address
}

// settle lets a handler stand at an address where none does.
func settle(handler http.Handler) *address {
	addresses.Lock()
	defer addresses.Unlock()
	var a *address
	if last := len(addresses.free) - 1; last >= 0 {
		a, addresses.free = addresses.free[last], addresses.free[:last]
	} else {
		a = &address{}
		a.server = httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			a.mu.RLock()
			defer a.mu.RUnlock()
			if a.stands == nil {
				http.Error(w, "nobody lives here", http.StatusServiceUnavailable)
				return
			}
			a.stands.ServeHTTP(w, r)
		}))
	}
	a.mu.Lock()
	a.stands = handler
	a.mu.Unlock()
	return a
}

// leave waits until every request is answered; the address is another's then.
func (a *address) leave() {
	a.server.CloseClientConnections()
	a.mu.Lock()
	a.stands = nil
	a.mu.Unlock()
	addresses.Lock()
	addresses.free = append(addresses.free, a)
	addresses.Unlock()
}

// tab is one that nobody uses, or a new one, with cookies of its own.
func (a *address) tab() (tab, error) {
	if last := len(a.tabs) - 1; last >= 0 {
		t := a.tabs[last]
		a.tabs = a.tabs[:last]
		return t, nil
	}
	ctx, end := chromedp.NewContext(chromium, chromedp.WithNewBrowserContext())
	return tab{ctx, end}, chromedp.Do(ctx) // what it begins with it ends with: not with one of the tests
}

// free keeps a tab for whoever comes next, who finds nothing in it of what was there.
func (a *address) free(t tab) {
	if err := t.clear(a.server.URL); err != nil {
		t.close()
		return
	}
	a.tabs = append(a.tabs, t)
}

func (t tab) clear(url string) error {
	ctx, cancel := context.WithTimeout(t.ctx, Patience)
	defer cancel()
	if err := chromedp.Do(ctx, chromedp.Navigate(url+"/lagoon.svg")); err != nil { // a page that keeps and asks nothing
		return err
	}
	if _, err := chromedp.Call(ctx, network.ClearBrowserCookies, cdp.Empty{}); err != nil {
		return err
	}
	if _, err := chromedp.Call(ctx, storage.ClearDataForOrigin, storage.ClearDataForOriginParams{Origin: url, StorageTypes: "all"}); err != nil {
		return err
	}
	_, err := chromedp.Call(ctx, page.ResetNavigationHistory, cdp.Empty{})
	return err
}
