package bank

// OnScreen is the simulated bank as it is set from a screen, in words.
type OnScreen struct{ Simulated }

// Offered are the ways in which it may behave.
func (s OnScreen) Offered() []string { return wordsOf(Behaviours) }

// Now are those in which it behaves.
func (s OnScreen) Now() ([]string, error) {
	now, err := s.Behaving()
	return wordsOf(now), err
}

// Set has it behave so from its next file on.
func (s OnScreen) Set(how []string) error {
	var all []Behaviour
	for _, one := range how {
		all = append(all, Behaviour(one))
	}
	return s.SetBehaving(all)
}

func wordsOf(all []Behaviour) []string {
	words := make([]string, len(all))
	for i, one := range all {
		words[i] = string(one)
	}
	return words
}
