package store

// This file keeps who can sign in, what they may do, and who stands in for them.

import (
	"strings"

	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
)

// Person is somebody who signs in.
type Person struct {
	ID          int64
	Login, Name string
	Password    string // as hashed
	About       string
	Mail        string       // address; empty: none is known
	Authority   money.Amount // company currency
	Comma       bool         // writes 1.250,5
	Active      bool
	OneTime     bool  // the password was given by somebody else and is to be changed first
	Epoch       int64 // sessions that began in an earlier one are over
	Roles       []string
	Asked       Asked
}

// Asked are roles and authority that wait for a second administrator; By is who asked,
// zero where nothing waits.
type Asked struct {
	Roles     []string
	Authority money.Amount
	By        int64
}

const personColumns = `SELECT p.id, p.login, p.name, p.password, p.about, p.authority, p.comma, p.active, p.one_time,
	p.epoch, p.asked_roles, p.asked_authority, coalesce(p.asked_by, 0),
	coalesce((SELECT group_concat(role, ' ') FROM person_role WHERE person = p.id AND ended = 0), ''),
	coalesce((SELECT address FROM person_mail WHERE person = p.id), '') FROM person p `

var (
	personByLogin = statement(personColumns + `WHERE p.login = ?`)
	personByID    = statement(personColumns + `WHERE p.id = ?`)
	allPeople     = statement(personColumns + `ORDER BY p.id`)
	putPerson     = statement(
		`INSERT INTO person (login, name, password, about, authority, comma, active, one_time, epoch, asked_roles,
		asked_authority, asked_by)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, nullif(?, 0))
		ON CONFLICT (login) DO UPDATE SET name = excluded.name, password = excluded.password, about = excluded.about,
		authority = excluded.authority, comma = excluded.comma, active = excluded.active,
		one_time = excluded.one_time, epoch = excluded.epoch, asked_roles = excluded.asked_roles,
		asked_authority = excluded.asked_authority, asked_by = excluded.asked_by`,
	)
	putPersonMail = statement(
		`INSERT INTO person_mail (person, address) VALUES (?, ?) ON CONFLICT (person) DO UPDATE SET address = excluded.address`,
	)
	putRole = statement(
		`INSERT INTO person_role (person, role, ended) VALUES (?, ?, ?)
			ON CONFLICT (person, role) DO UPDATE SET ended = excluded.ended`,
	)
	rolesOf       = statement(`SELECT role FROM person_role WHERE person = ?`)
	putSubstitute = statement(
		`INSERT INTO substitute (person, no, substitute, from_day, until_day, ended) VALUES (?, ?, ?, ?, ?, ?)
		ON CONFLICT (person, no) DO UPDATE SET ended = excluded.ended`,
	)
	substitutesOf = statement(
		`SELECT person, no, substitute, from_day, until_day, ended FROM substitute WHERE person = ?
			ORDER BY person, no`,
	)
	standingFor = statement(
		`SELECT person FROM substitute WHERE substitute = ?1 AND ended = 0 AND from_day <= ?2 AND until_day >= ?2`,
	)
)

func scanPerson(r row) (p Person, err error) {
	var roles, asked string
	err = r.Scan(
		&p.ID,
		&p.Login,
		&p.Name,
		&p.Password,
		&p.About,
		&p.Authority,
		&p.Comma,
		&p.Active,
		&p.OneTime,
		&p.Epoch,
		&asked,
		&p.Asked.Authority,
		&p.Asked.By,
		&roles,
		&p.Mail,
	)
	p.Roles, p.Asked.Roles = strings.Fields(roles), strings.Fields(asked)
	return
}

// PersonByLogin finds a person by sign-in name.
func (t *Tx) PersonByLogin(login string) (Person, error) {
	return one(t, personByLogin, scanPerson, login)
}

// PersonByID finds a person by row key.
func (t *Tx) PersonByID(id int64) (Person, error) { return one(t, personByID, scanPerson, id) }

// People lists everybody, also those who left.
func (t *Tx) People() ([]Person, error) { return list(t, allPeople, scanPerson) }

// PutPersonMail writes where a person is written to; empty: nowhere.
func (t *Tx) PutPersonMail(person int64, address string) error {
	return t.do(putPersonMail, person, address)
}

// PutPerson writes a person by sign-in name, which stays, with just the roles that are
// named, and gives the row key.
func (t *Tx) PutPerson(p Person) (int64, error) {
	id, err := t.exec(
		putPerson,
		p.Login,
		p.Name,
		p.Password,
		p.About,
		p.Authority,
		p.Comma,
		p.Active,
		p.OneTime,
		p.Epoch,
		strings.Join(p.Asked.Roles, " "),
		p.Asked.Authority,
		p.Asked.By,
	)
	if err != nil {
		return 0, err
	}
	if p.ID != 0 {
		id = p.ID
	}
	before, err := list(t, rolesOf, scanOne[string], id)
	if err != nil {
		return id, err
	}
	held := map[string]bool{}
	for _, role := range p.Roles {
		held[role] = true
		if err := t.do(putRole, id, role, false); err != nil {
			return id, err
		}
	}
	for _, role := range before {
		if !held[role] {
			if err := t.do(putRole, id, role, true); err != nil {
				return id, err
			}
		}
	}
	return id, nil
}

// Substitute acts in a person's place, on the days from–to.
type Substitute struct {
	Person, Substitute int64
	No                 int
	From, Until        day.Day
	Ended              bool
}

// PutSubstitute writes a substitute; only the end of one is ever changed.
func (t *Tx) PutSubstitute(s Substitute) error {
	return t.do(putSubstitute, s.Person, s.No, s.Substitute, s.From, s.Until, s.Ended)
}

// SubstitutesOf lists a person's substitutes, ended ones too.
func (t *Tx) SubstitutesOf(person int64) ([]Substitute, error) {
	return list(t, substitutesOf, func(r row) (s Substitute, err error) {
		err = r.Scan(&s.Person, &s.No, &s.Substitute, &s.From, &s.Until, &s.Ended)
		return
	}, person)
}

// StandingFor lists in whose place a person acts on a day.
func (t *Tx) StandingFor(person int64, on day.Day) ([]int64, error) {
	return list(t, standingFor, scanOne[int64], person, on)
}
