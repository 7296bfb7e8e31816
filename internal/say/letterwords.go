package say

// The words of the letters. Every language has the same.
var letterWords = map[string]map[string]string{
	"en": {"order": "Order", "changed order": "Changed order", "cancellation": "Cancellation of order", "reminder": "Reminder of order", "return note": "Return note", "date": "Date", "wanted": "Wanted by", "deliver to": "Deliver to",
		"your reference": "Your reference", "contact": "Contact", "asked for by": "Asked for by", "instructions": "Instructions", "no": "No.", "goods": "Goods", "quantity": "Quantity", "unit": "Unit", "price": "Unit price", "net": "Net", "tax": "Tax", "total": "Total",
		"charges": "Charges", "changes": "Changed since the last version:", "page": "Page", "our item": "our item", "your item": "your item", "lot": "lot", "per": "per", "delivery note": "Your delivery note", "reason": "Reason", "asks": "We ask for", "replacement": "replacement", "credit": "a credit note",
		"discount": "Discount", "surcharge": "Surcharge", "greeting by name": "Dear %s,", "greeting": "Dear Sir or Madam,", "closing": "Kind regards", "order text": "please find our order %d enclosed. Please confirm it with your delivery day.", "change text": "our order %d has changed; the new version is enclosed. It replaces the earlier ones.",
		"remind goods": "our order %d was wanted by %s and has not arrived in full. Please tell us when we can expect the rest:", "remind answer": "we have not had your confirmation of our order %d, wanted by %s. Please confirm it with your delivery day:", "cancel text": "we cancel our order %d. Please deliver nothing on it.", "return text": "we send goods of your delivery note %s back; the return note is enclosed."},
	"de": {"order": "Bestellung", "changed order": "Geänderte Bestellung", "cancellation": "Stornierung der Bestellung", "reminder": "Erinnerung an Bestellung", "return note": "Rücklieferschein", "date": "Datum", "wanted": "Gewünscht bis", "deliver to": "Lieferung an",
		"your reference": "Ihr Zeichen", "contact": "Ansprechpartner", "asked for by": "Angefordert von", "instructions": "Hinweise", "no": "Pos.", "goods": "Ware", "quantity": "Menge", "unit": "Einheit", "price": "Einzelpreis", "net": "Netto", "tax": "Steuer", "total": "Gesamt",
		"charges": "Nebenkosten", "changes": "Geändert seit der letzten Fassung:", "page": "Seite", "our item": "unser Artikel", "your item": "Ihr Artikel", "lot": "Charge", "per": "je", "delivery note": "Ihr Lieferschein", "reason": "Grund", "asks": "Wir bitten um", "replacement": "Ersatz", "credit": "eine Gutschrift",
		"discount": "Rabatt", "surcharge": "Zuschlag", "greeting by name": "Guten Tag %s,", "greeting": "Sehr geehrte Damen und Herren,", "closing": "Mit freundlichen Grüßen", "order text": "anbei unsere Bestellung %d. Bitte bestätigen Sie sie mit Ihrem Liefertag.", "change text": "unsere Bestellung %d hat sich geändert; die neue Fassung liegt bei und ersetzt die früheren.",
		"remind goods": "unsere Bestellung %d war bis %s gewünscht und ist nicht vollständig eingetroffen. Bitte teilen Sie uns mit, wann der Rest kommt:", "remind answer": "zu unserer Bestellung %d, gewünscht bis %s, fehlt uns Ihre Bestätigung. Bitte bestätigen Sie sie mit Ihrem Liefertag:", "cancel text": "wir stornieren unsere Bestellung %d. Bitte liefern Sie nichts mehr darauf.", "return text": "wir senden Ware Ihres Lieferscheins %s zurück; der Rücklieferschein liegt bei."},
	"fr": {"order": "Commande", "changed order": "Commande modifiée", "cancellation": "Annulation de la commande", "reminder": "Rappel de la commande", "return note": "Bon de retour", "date": "Date", "wanted": "Souhaitée pour le", "deliver to": "Livrer à",
		"your reference": "Votre référence", "contact": "Contact", "asked for by": "Demandée par", "instructions": "Instructions", "no": "N°", "goods": "Marchandise", "quantity": "Quantité", "unit": "Unité", "price": "Prix unitaire", "net": "Net", "tax": "Taxe", "total": "Total",
		"charges": "Frais", "changes": "Modifié depuis la dernière version :", "page": "Page", "our item": "notre article", "your item": "votre article", "lot": "lot", "per": "par", "delivery note": "Votre bon de livraison", "reason": "Motif", "asks": "Nous demandons", "replacement": "un remplacement", "credit": "un avoir",
		"discount": "Remise", "surcharge": "Supplément", "greeting by name": "Bonjour %s,", "greeting": "Madame, Monsieur,", "closing": "Cordialement", "order text": "veuillez trouver ci-joint notre commande %d. Merci de la confirmer avec votre jour de livraison.", "change text": "notre commande %d a changé ; la nouvelle version ci-jointe remplace les précédentes.",
		"remind goods": "notre commande %d était souhaitée pour le %s et n'est pas arrivée en entier. Merci de nous dire quand le reste arrivera :", "remind answer": "nous n'avons pas reçu votre confirmation de notre commande %d, souhaitée pour le %s. Merci de la confirmer avec votre jour de livraison :", "cancel text": "nous annulons notre commande %d. Merci de ne plus rien livrer.", "return text": "nous renvoyons de la marchandise de votre bon de livraison %s ; le bon de retour est joint."},
}

// What can change on an order, in the languages of the letters besides English.
var changeWords = map[string]map[string]string{
	"de": {"Line": "Pos.", "none": "entfällt", "wanted by": "gewünscht bis", "place of delivery": "Lieferort", "contact": "Ansprechpartner", "your reference": "Ihr Zeichen", "instructions": "Hinweise", "note": "Bemerkung", "added": "neu:",
		"description": "Bezeichnung", "quantity": "Menge", "unit price": "Einzelpreis", "discount": "Rabatt", "surcharge": "Zuschlag", "no more goods": "keine weitere Lieferung", "goods wanted again": "wieder gewünscht", "planned charges": "Nebenkosten"},
	"fr": {"Line": "Pos.", "none": "supprimé", "wanted by": "souhaitée pour le", "place of delivery": "lieu de livraison", "contact": "contact", "your reference": "votre référence", "instructions": "instructions", "note": "remarque", "added": "nouveau :",
		"description": "désignation", "quantity": "quantité", "unit price": "prix unitaire", "discount": "remise", "surcharge": "supplément", "no more goods": "plus de livraison", "goods wanted again": "de nouveau souhaité", "planned charges": "frais"},
}

// The words for units in the languages of the letters besides English.
var unitWords = map[string]map[string]string{
	"de": {"C62": "Stück", "H87": "Stück", "EA": "je Stück", "HUR": "Stunden", "DAY": "Tage", "XCT": "Kartons", "XBX": "Kisten", "XTB": "Eimer", "XBG": "Säcke", "XPK": "Pakete", "XDR": "Fässer", "SET": "Sätze"},
	"fr": {"C62": "pièces", "H87": "pièces", "EA": "l'unité", "HUR": "heures", "DAY": "jours", "XCT": "cartons", "XBX": "caisses", "XTB": "seaux", "XBG": "sacs", "XPK": "paquets", "XDR": "fûts", "SET": "jeux"},
}
