/** A piece of help: what something is for, and how it is done. A key stands between back ticks. */
export interface HelpPart {
  title: string
  text?: string
  steps?: string[]
}

/** The help of one view: what it is about, what to do first, what else can come up. */
export interface HelpPage {
  title: string
  lead: string
  parts: HelpPart[]
}

const marks: HelpPart = {
  title: 'The four marks, and the gauge',
  text: 'A green disc: it agrees, nothing is to be done. A half-filled ring: it differs, within a limit. A dashed ring: it waits for somebody or something. A red triangle: it is outside what is allowed, and a person decides. The gauge of a line: the stroke is what was ordered, the hatched band what the limits allow, the upper bar what came, the lower what was invoiced.',
}
const asking: HelpPart = {
  title: 'Asking a colleague',
  text: '`Q` asks about a difference, or about all of it: the figures stand in the question already, you say whom and add a word, `Ctrl+Enter`. It lies in their pile under *Asked of you*, and the invoice with others, held back till the answer unless you untick that. They answer, pass it on, or do what it asks about, which answers it too. The answer lies under *Answered to you* until you have seen it; after the days to remind an unanswered one stands under *Not answered yet*. A note asks nothing: it stands on the document, and in the pile of whom it is for. The supplier sees nothing of it, unless you ask *the supplier, by mail*: then your words go out in a letter in its language, and the mail that answers stands under the question, where you note what it says.',
}
const sharing: HelpPart = {
  title: 'Who is on what',
  text: 'Whoever has an invoice open is named on it and in the pile at once. `W` takes over what is your role’s turn: it is yours then, and stands with you in the others’ piles; `D` hands it to a colleague of that role with a word, or back to all of them. *Whose turn*, under Look up, shows what is held by role and person; an approver or administrator ticks there and hands over in bulk. Nobody is handed what they keyed and may not decide on.',
}
const everywhere: HelpPart = {
  title: 'Getting about',
  steps: [
    '`/` finds anything by its number or the beginning of a name.',
    '`[` and `]` go to the stage before and the next one. The number beside a stage says how many things there are your turn.',
    '`↑` and `↓` move in the pile on the left, `Enter` opens.',
    'In a field a letter is typed; with `Alt` it is the action. `Enter` goes to the next field and books nothing, `Ctrl+Enter` does what the filled button does.',
    'A day is typed as it is said: *28.11*, *28/11*, *fri*, *today*, *+3*. The little calendar beside it is there as well.',
    '*History*, beside the thread, tells who did what to a document, when and why.',
    '`?` lists every key that works where you are.',
    'What you type is kept in this browser until it is booked or thrown away, also when the connection is lost.',
  ],
}

export const help: Record<string, HelpPage> = {
  orders: {
    title: 'Orders',
    lead: 'What was ordered, from whom, on which terms, and how far each order has come.',
    parts: [
      {
        title: 'What to look at first',
        text: '*Your turn* on top: orders whose goods are late, the longest overdue first; then drafts, what is on the way by day, and what nothing more is expected of. Open one: each line’s gauge shows what was ordered, came, and was invoiced, and the thread on the right tells everything that happened, in the order of time. `W` says which limits hold and where they come from.',
      },
      {
        title: 'What can be done with an order',
        steps: [
          '`S` sends it: you see the paper exactly as the supplier gets it, choose prices or not, and mail it, or mark it as sent another way.',
          '`G` notes that the supplier acknowledged it, with the day it promised.',
          '`E` changes it. The earlier version stays; what changed since the last sending is shown, and you send it again.',
          '`C` leads to its lines that something can still come on: say whether goods, invoices or both have ended. It says beforehand what is released, and can be undone while the month is open.',
          '`B` sends goods back, out of whatever deliveries hold them; the same from an item under *Set up*, over all its orders at a supplier.',
          '`F` takes the rest of a line as free of charge: it is here, and nobody will invoice it.',
          '`X` cancels it, as long as nothing was received or invoiced.',
        ],
      },
      {
        title: 'Work, by value',
        text: 'A line whose unit is *in value* is an amount: a service, a repair, a stage of work. Nothing of it comes to a door. Whoever asked for it says what is done: *For you to accept*, then `V`, and an amount or per cent such as `40%`. As much can be invoiced then, in whatever hours or days the supplier writes; what is accepted and not invoiced yet can be taken back from what was accepted.',
      },
      asking,
      marks,
      everywhere,
    ],
  },
  'orders entering': {
    title: 'Entering an order',
    lead: 'The supplier’s first letters, then a line per item: its code, Enter, the quantity, Enter.',
    parts: [
      {
        title: 'Line by line',
        steps: [
          'Type the item’s code, the supplier’s own code or words of its name. Unit, price, tax and budget come by themselves.',
          'A grey price is the agreed one. Type another to use that instead; the line then says what was agreed.',
          'Text that names no item makes a free line: give price, tax and budget yourself; it counts in pieces unless you say another unit, by its word or its code.',
          '*More* on a line holds its own wanted day, a note, a discount, how its invoices are matched, and limits for this line only; beside each stands what applies otherwise and where that comes from.',
          'A line without a budget stands first when you issue, and the order is not issued without it.',
        ],
      },
      {
        title: 'Before it is issued',
        text: '*Place* is one of the company’s list, or *elsewhere, this once*; the address of the place stands on the order. Under the lines: the supplier’s offer number and contact, instructions, a note, and charges that are expected, such as freight. A charge planned here is no surprise on the invoice. A discount on the whole, an amount or per cent, makes every line cheaper by its share. What a supplier always charges or grants is proposed.',
      },
      {
        title: 'Issue and send',
        text: '`Ctrl+Enter` shows what goes out: the mail and the paper, with the number that the order gets. `Ctrl+Enter` again issues the order and sends it, both or neither; *Issue it without sending* leaves the supplier to be told later. If a colleague issued an order meanwhile, the number is another one, and you look at it once more. *What it is about* is proposed from the first item; what you write there stands in piles and on the paper.',
      },
      {
        title: 'Above your authority',
        text: 'An order whose net is above its buyer’s authority is kept under its number and waits for an approver who did not enter it; it is issued, and goes out as it was written, when they approve. A change that raises an order above what was approved asks again, and the order stays as it is meanwhile. Approvers find it under *For you to approve*: `1`, then approve, refuse with a word why, or pass it on.',
      },
      {
        title: 'When it is refused',
        text: 'The supplier’s rules are checked: a supplier from whom *nothing is ordered* for now, or that is *not ordered from yet*, gets no order, a least order value must be reached, and so on. The sentence says what is missing and the field is marked. `S` keeps the order as a draft for another day or colleague. If somebody kept it meanwhile, you are told, and take theirs or go on with yours.',
      },
    ],
  },
  'orders closing': {
    title: 'Closing lines',
    lead: 'Lines that nothing will come on any more should not stay open: they hold budget and make the expected pile long.',
    parts: [
      {
        title: 'How',
        steps: [
          'Narrow the list by order, supplier, item, budget, person or age.',
          'Choose lines, or `A` for all that are shown; say whether goods, invoices or both have ended.',
          '`Ctrl+Enter` shows what would be released. Nothing is closed before you confirm it with a reason.',
        ],
      },
      {
        title: 'Undoing it',
        text: 'Choose *closed* instead of *open*: each line says what it is closed to and why. Choose some, and `Ctrl+Enter` opens them again, as long as the month they were closed in is open.',
      },
    ],
  },
  'orders reminders': {
    title: 'Reminders',
    lead: 'Orders that the supplier has not acknowledged, and deliveries that are late, with whom to ask.',
    parts: [
      {
        title: 'How',
        text: 'Open the mail beside an order, read it, change a word if you like, and send. The sending is kept with the order, and the list says when it was last reminded.',
      },
      {
        title: 'When',
        text: 'What is not acknowledged, late goods and invoices that wait for goods are chased after two days each, or after as many as are set: for all under *Set up*, *Company*, and for one supplier on its page; *never* switches it off. *Invoices that wait for goods* under *Look up* is the same as a list: kept under a name, it is mailed every working day on which there is something on it; kept for all with the word *mine*, each colleague is mailed theirs, at the address that an administrator wrote under *People*.',
      },
    ],
  },
  'orders planned': {
    title: 'Planned purchases',
    lead: 'What a budget plans to buy. Choose several lines of one supplier and get an order of them.',
    parts: [
      {
        title: 'How',
        text: 'Tick the lines, then `Ctrl+Enter`: the order is filled in for you to check and issue. A line that was ordered says so, and what is still left of it. An order you had begun is kept as a draft.',
      },
      {
        title: 'Planning one',
        text: 'Below the list: supplier, item or words, quantity, the price you expect, and the budget it comes out of. A known item brings its unit, price and budget. `Ctrl+Enter` plans it.',
      },
    ],
  },
  receiving: {
    title: 'Receiving',
    lead: 'What is expected today, what stands at the door, and what came.',
    parts: [
      {
        title: 'What is announced',
        text: 'A despatch notice has a page of its own, which the thread and `/` lead to. A delivery that starts from it shows what was announced beside what is counted, and by how much they differ; what is booked keeps that. Where a supplier or an order requires a notice (*What is chased*, and on the order), a missing one stands under Reminders.',
      },
      {
        title: 'A delivery arrives',
        steps: [
          'Type the order’s number, a space and the delivery note’s number, and `Enter` (`N` puts you there): *4107 DN 5512*. A notice’s number or the supplier’s first letters do, too; or take it from the pile.',
          'The delivery note’s number is asked for: the same note booked twice is the commonest mistake at the door. Goods without one: `B`, and they are booked under a number of ours.',
          'What the note counts in all may be typed as a control: the lines add up to it, or you say why not.',
          '*Place* is where the order sends the goods, or where you receive when others receive there; *elsewhere, this once* takes any other.',
          'Everything as ordered? `A`, then `Ctrl+Enter`. Otherwise type what you counted, line by line.',
        ],
      },
      {
        title: 'A delivery that was begun',
        text: 'It stands under *Begun* until it is booked or begun anew, and says since when and what came meanwhile. Another delivery note for the same order asks which of the two is meant.',
      },
      {
        title: 'Less than ordered',
        text: 'The rest stays open and is expected again. If nothing more will come, `C` on the line closes it; that passes down to the limit.',
      },
      {
        title: 'More than ordered',
        text: 'Up to the limit it is simply booked. Past it you count again, or `L` books up to the limit and records the surplus as refused at the door. `W` shows where each limit comes from. Goods for a line that is closed are refused the same way, or the buyer opens the line again.',
      },
      {
        title: 'On a line',
        steps: [
          '`T` asks for lots; several lots can share a line.',
          'Another unit: choose it beside the quantity, and the arithmetic is shown.',
          '`R` refuses goods at the door, beside what is taken in: how many, and why. They are expected again unless the line is closed.',
          'Damp, warm, torn? Say it of the line or of the whole delivery, and take or drop photographs. They stay with the delivery.',
        ],
      },
      {
        title: 'Booked wrongly, or going back',
        text: 'Open the delivery. `U` undoes a wrong booking as long as it is not invoiced. `R` returns goods, for replacement or for credit, with a note to print for the driver. Where they came with several deliveries, `B` on the order sends them back: what nobody invoiced goes first, one return of each delivery. What the supplier leaves to you is taken free of charge on the order; that too is undone on its document. Nothing booked is ever edited.',
      },
      marks,
      everywhere,
    ],
  },
  invoices: {
    title: 'Invoices',
    lead: 'Each invoice is set against its order and what was received. What agrees is verified by itself; the pile shows what is your turn, what waits for others, and what moves by itself.',
    parts: [
      {
        title: 'Taking invoices in',
        steps: [
          'Drop e-invoice files anywhere on the stage, or `F`. Each answers with what became of it.',
          '`K` keys a paper invoice from what is in your hand: an order’s number or a delivery note’s, Enter, and what is received and not yet invoiced is filled in, with discounts and planned charges. An item or a supplier shows what came and waits for an invoice, by order and note: tick, and take it. Type over what differs, add a line, or leave one out; the stated total comes last, and what it books stands below.',
          'A net typed in place of a quantity works the quantity out. *The rest of the order* and *Share of it* (`10%` or an amount) propose what is billed before the goods, or in stages. What is left out stays open.',
          'One invoice over several orders: *Another order or note* adds what is received on another order of the same supplier.',
          '*Last invoice*: the supplier bills nothing more. When it verifies, what is left of the order is closed; what is here and not invoiced stays until somebody takes it as free of charge. Making it void opens the order again.',
        ],
      },
      {
        title: 'Invoices that we write ourselves',
        text: 'Where that is agreed with a supplier, under Set up, the lines of its orders are marked, and its own invoice for one is held. The page shows what a run would make of what came and is not invoiced, at the order’s price and tax of that day, and what it leaves out and why; `Ctrl+Enter` writes all of it: verified at once, numbered in the series that is agreed, mailed as a paper and as a file. What went back after we billed it becomes a credit note. What a run selects can be kept under a name for the next time. What waits to be written stands in the pile; with a supplier it can be agreed that they are written by themselves, every evening, on Fridays or on the last day of the month, and what they would leave out is a clerk’s turn.',
      },
      {
        title: 'By mail',
        text: 'Mails come in by themselves where an administrator has set that up (*Set up*, *Mail and files*); a mail that was saved as a file (`.eml`) is dropped here like an invoice. Every e-invoice in a mail, also in an archive or inside a PDF, becomes an invoice of its own, and the mail stands beside it; an address that is none of the supplier’s is said. What is no e-invoice stands under *Not an invoice?*: `K` keys one from it, with the file as its paper; `A` answers it by mail under your name and puts it away; `P` puts it away, as a paper of an order or a supplier or with a word what it is. What a machine wrote by itself, such as an answer of somebody away, is kept and makes no noise. A PDF stands beside what you key: larger, smaller, turned and searched by the words above it or, once it has the focus, by `+`, `-`, `T`, `Page Up` and `Page Down`.',
      },
      {
        title: 'An invoice that waits',
        text: 'A dashed ring: it came before the goods. It verifies by itself when the delivery is booked. Nothing is to be done.',
      },
      {
        title: 'By delivery note',
        text: 'Orders, items and suppliers may be matched by the delivery notes that are invoiced: then each line is held against the goods of the notes that it names, and one that names none takes the oldest. An e-invoice names them itself, and finds its order by them where it states none.',
      },
      {
        title: 'An invoice that is held',
        text: 'Each difference is a sentence with its figures, the limit and where that limit comes from. Under it are the ways out, numbered; a way says beforehand what it books. You may only be allowed some of them: then it says whose turn it is. Type the note, choose another way with `↑` `↓`, and `Ctrl+Enter` does it. Then the next of your own turn opens, or this one stays.',
      },
      {
        title: 'An invoice without an order',
        steps: [
          '`K`, the supplier, then *Without an order*: say of each line what it is for, and the budget that it is charged to, by code or name. What its last invoices were charged to is proposed.',
          'One line over several budgets: type `TANKS 60, CLINIC 40`. The cents are spread so that the shares come to the line.',
          'It waits for somebody with the authority who did not key it: *Approve*, *Refuse*, or *Pass it on* to another person with a note.',
          'A cost that comes back, such as a rent, says what is different this time.',
        ],
      },
      {
        title: 'Tax',
        text: 'The tax cell takes a rate, such as `23`, or a tax code. The rate is that of the tax point, or of the invoice’s date where it states none. Under reverse charge the supplier charges no tax: the code says at which rate we owe it and claim it back, and both sides are booked when the invoice verifies. Without a code such an invoice is held.',
      },
      {
        title: 'A cost over several months',
        text: '*Spread…* beside a line of cost: from which month, over how many. The months and their parts stand under the line before anything is booked; parts of months that are over go to the month of the posting day. The cost stands in deferred expense and is posted month by month under *Budgets and books*. A void takes all of it back; a credit note takes from the months that are still to come.',
      },
      {
        title: 'Several differences, or one too many',
        text: 'Differences of one kind are accepted together with one note: tick *and the other differences of its kind*. Authority covers their sum. *Take back* undoes what was accepted while nothing stands on it.',
      },
      {
        title: 'Refusing it',
        text: '`R`, and the reason. The invoice ends and frees what it claimed; the supplier is told by mail in its language with the words that stand below.',
      },
      {
        title: 'A credit note',
        text: '`E` on a verified invoice, or on goods that went back, keys its credit note. One that comes as a file is read like any invoice, finds the invoice that it names, and says line by line what can be credited.',
      },
      {
        title: 'Twice the same invoice',
        text: 'As soon as supplier and number are there, what stands under that number is said, with a link. The same number of the same supplier is refused and the first is named; one that looks alike is held for a person. Another supplier’s invoice of that number is mentioned and is no difference.',
      },
      {
        title: 'Pay what agrees',
        steps: [
          '`A` on a held invoice: of each line that is outside, the goods that are not here and what the rest is dearer stand there.',
          'Lower a quantity or an amount if you have agreed on less; what you do not claim counts as accepted by you, and takes the authority and a note.',
          '`Ctrl+Enter` books the invoice, keeps the claim back and mails the letter that stands below. Untick *Tell the supplier* where you have told it already.',
        ],
      },
      {
        title: 'What could not be found',
        text: 'A supplier, an order or a line that is not known is settled with `1`: what it may be stands there, best first, with the reasons. Choose with the arrows, `Ctrl+Enter`. The supplier’s code of a line is remembered; *Set up, Suppliers* shows and forgets it.',
      },
      {
        title: 'Money that was paid ahead',
        text: 'Money is agreed ahead on its order, with `M`, as a share (`30%`) or an amount; it stands on the order’s paper; the order leads to its invoice, whose lines stand there, and Payments lists what is ahead. An invoice of the order asks about what is paid and not used: `U` uses all that can be, *Another amount* a part or the share that is billed, *Leave it* says why not. The tax that was claimed with it goes back with it. What the supplier was paid ahead on another order is used only where you say so, under *Money paid ahead on another order…*. It can be taken back until the invoice is in a run. What no invoice will use, as its order is cancelled, is credited with `E` on its invoice, and the credit note is *Refunded*.',
      },
      {
        title: 'Terms of its own',
        text: '*Other terms…* on an order or an invoice sets terms of payment in the place of the supplier’s, with a word why: days net, discounts, instalments. An order’s hold for all its invoices that have none of their own; what a run holds stays as it is.',
      },
      {
        title: 'Another payee',
        text: '*Another payee…* has another supplier paid for this invoice alone, to whom it was assigned, say: with a word why, and once another person has confirmed it *with how it was checked*. Until then it is left out of runs; nothing is netted off what is paid to another. It is changed back until the invoice is in a run.',
      },
      {
        title: 'Paid ahead without an invoice',
        text: 'Where the company allows it (*Set up, Company*), *Pay … without an invoice* on the order asks for what is agreed ahead. The request is released, paid and taken back like an invoice, but whole and by others than who asked; nothing is owed for it, and it stands in the books once it is paid. An invoice that comes before the bank has paid waits, so that nothing is paid twice; one that comes after takes the request’s place and brings the tax. `M` on the list of money ahead makes a run of what is chosen there.',
      },
      {
        title: 'Paid otherwise',
        text: '`O` on a verified or released invoice, for whoever pays: in cash, by card, or by the bank without a run, with what tells it. All of it is released with it; nobody records it of their own entry, and it takes the authority. It is taken back on the same sheet.',
      },
      {
        title: 'Claiming of a verified invoice',
        text: 'Where goods went back or more is billed than is here, `A` claims it: it is taken out of what the invoice billed. No more can be kept back than is still to be paid.',
      },
      {
        title: 'How a claim ends',
        text: 'A credit note that names the invoice settles it, also in parts; more than the claim is a credit of its own. *Give up* owes the rest after all, as price variance; it takes the authority for it. Where the goods come after all, *Withdraw* bills them at their claimed price.',
      },
      {
        title: 'Invoices on paper',
        text: 'Drop a PDF or a picture like an e-invoice, or open a mail that carries one and press `K`. What stands on the paper is put into the form: supplier, order, number, day and total, and the lines are what is received and not yet invoiced, or what its table bills; of a paper that names no order they are charged to a budget. A dashed field is *read, not checked*; a warm one is doubtful and is looked at before anything can be captured. `U` goes to the next, `Enter` in it or typing over it checks it, and the paper beside the form shows where it was read. A page without text is looked at by a machine, which errs more often. A click on the paper puts what stands there into the field you are in; `Alt+↓` and `Alt+↑` go from figure to figure and `Alt+Enter` takes one. What you corrected is learned: the next paper of the supplier is read where you found it, and under *Set up*, *Suppliers* it can be forgotten.',
      },
      asking,
      sharing,
      marks,
      everywhere,
    ],
  },
  'invoices batch': {
    title: 'Many invoices at once',
    lead: 'A row for each invoice, held against what you added up before you began. Nothing is captured before both agree.',
    parts: [
      {
        title: 'Keying a batch',
        steps: [
          'Enter what you added up: how many invoices, and their total; `Enter` goes on.',
          'In each row type the order or a delivery note of it, the invoice’s number, its date and total. It bills what is received and not invoiced; of an order with one line another quantity may be typed.',
          '`T` tries it: what would come of each row, each after the ones before. Nothing is changed by that.',
          '`Ctrl+Enter` captures it.',
        ],
      },
      {
        title: 'While it is captured',
        text: 'It goes on beside everything else, also when you leave the page. *Stop* keeps what is captured; *Go on capturing* takes up the rest. What is refused says why in its row and keeps no other out: put it right and go on.',
      },
      {
        title: 'What came of it',
        text: 'The verdict and what is to be done stand first, then each invoice with its lines and totals; *Save as PDF* takes it along. What is captured is corrected as any other invoice.',
      },
      {
        title: 'What it is not for',
        text: 'Invoices without an order, credit notes, and those that bill only some of several lines are keyed by themselves.',
      },
      marks,
      everywhere,
    ],
  },
  'invoices crediting': {
    title: 'Credit notes',
    lead: 'A credit note takes back what an invoice billed: goods that went back or were billed too much, or a part of a price.',
    parts: [
      {
        title: 'Keying one',
        steps: [
          '`E` on the invoice, or on the return: the lines that can be credited stand there with quantity and price, dated today.',
          'Type the number of the credit note and its stated total; `Ctrl+Enter` captures it.',
          'Say *for goods* or *for a price* where the figures do not tell: goods at the price that was invoiced, a price where it is no more than what was invoiced above the order.',
        ],
      },
      {
        title: 'What can be credited',
        text: 'Goods that went back for credit and were invoiced, what is invoiced beyond what came, and what was taken to price variance. More than that waits for the return, and moves on by itself once it is booked; where nothing can go back any more it is held. A credit note for less leaves the rest open.',
      },
      {
        title: 'A debit note',
        text: 'Where the supplier asks a higher price for what was invoiced already, choose *debit note* as the kind: quantities stay, and type what is asked more for one. The price that the line then comes to is held against the limit.',
      },
      {
        title: 'Before its invoice',
        text: 'A credit note that names an invoice which is not here, or not verified, waits for it. An invoice that a credit note stands against is made void only after the credit note.',
      },
      marks,
      everywhere,
    ],
  },
  holds: {
    title: 'Holds',
    lead: 'Everything that is held: why, since when, and whose turn it is.',
    parts: [
      {
        title: 'The pile',
        text: 'What is lost first stands first: the last day of a discount, else the day it is due. Another order is chosen above it. A difference ends when its cause does: the goods come, the price is accepted, the account is confirmed.',
      },
      {
        title: 'Several at once',
        steps: [
          'Differences of one kind that you may accept stand together; a number opens one kind, all ticked. Untick what does not belong, type why, `Ctrl+Enter`. Your authority has to cover what they come to together, else none is accepted.',
          '*Take off* does the same with holds. What may not be taken off stays and says why.',
        ],
      },
      {
        title: 'Putting something on hold',
        steps: [
          '`H` on an invoice: it is neither released nor paid until the hold is taken off. While it is keyed, *Payment hold* does it in the same act.',
          '`H` on an order: choose the whole of it or a line, and what is blocked: changing and sending, receiving, verifying, releasing, paying.',
          'Say who may take it off, and what ends it by itself: a day, the goods, the credit note. Whoever put it there may always take it off; nobody takes off a hold of somebody else on their own order or entry.',
          'Reasons of your own are added under *Set up*, *Budgets and books*.',
        ],
      },
      everywhere,
    ],
  },
  payments: {
    title: 'Payments',
    lead: 'Verified invoices are released, proposed for a run, approved by another person, and sent to the bank.',
    parts: [
      {
        title: 'In order',
        steps: [
          '`A` chooses what is clean, `Ctrl+Enter` releases it.',
          '`N` proposes a run of what is due, with the discounts worth taking; `Ctrl+Enter` makes it. `A` takes all of it out, to tick just what is wanted; `M` on a released invoice makes a run of it alone, due or not. What is taken out or put in is worked out anew at once, credit notes with it; *Urgent* has the bank carry it out at once.',
          'Somebody else approves the run: nobody approves their own. From the sum that the company sets two persons do, one after the other.',
          'The treasurer sends its file to the bank: only then the money is booked as under way. The bank’s answer is fetched, and each payment is paid, or says why not.',
          '`T` on a run that is with the bank mails each supplier what is paid to it and what is taken off, in its language; the advice is saved there as well.',
        ],
      },
      {
        title: 'What is left at the bank',
        text: 'Whoever may see the bank is told on the proposal and on a run under way what the account had by its last statement, and what each run leaves of it, on its day. Other currencies are counted at the rate of the day: the bank may take another.',
      },
      {
        title: 'When something changed meanwhile',
        text: 'A discount that ran out, an account or a hold that changed since the run was made: approving proposes the run again and says what changed, and nothing is paid as it was.',
      },
      {
        title: 'Taking it back',
        text: 'A release is taken back on the invoice, an approved run before it is sent by somebody other than who approved it. A file that never reached the bank is declared lost by somebody other than who made the run; ask the bank first.',
      },
      {
        title: 'Cash ahead',
        text: 'What leaves in which week and how certain that is, from runs down to what is only ordered: each sum opens what is in it. Discounts are ranked by what they are worth a year; what is overdue says what that costs at the rate under Set up, Company.',
      },
      {
        title: 'The bank',
        text: 'Statements (camt.053), notifications (camt.054) and answers (pain.002) are fetched, or taken as files. What names a payment of ours settles it or gives it back, and charges are booked; what nobody ordered waits under The bank until a treasurer says which invoice it paid, that it is a charge, or that it is none of ours. There it also stands how the bank’s balance and the ledger’s come together. Money may leave several accounts (*Set up, Company*): each run leaves one, in a file of its own. In the demo a treasurer ticks there how the stand-in bank behaves.',
      },
      {
        title: 'Why is this invoice not here?',
        text: 'Find it with `/`: its page says what it waits for. A supplier on payment hold, an account that is not confirmed and a held invoice are never paid.',
      },
      everywhere,
    ],
  },
  lookup: {
    title: 'Look up',
    lead: 'Every list of orders, goods, invoices, money and the books. One line on top says what a list shows.',
    parts: [
      {
        title: 'What a list shows',
        steps: [
          '`S` goes to the line. Type a word, or the beginning of a supplier’s name; `Enter` takes the marked completion, and it becomes a tag. `Backspace` takes the last one out; the × of a tag takes that one.',
          'Words of different kinds narrow together; the same word twice means either: *supplier Brackwater*, *supplier Halden*.',
          'Amounts and days are typed as everywhere: *over 1,000*, *since 1 Sep*. Lists of the books take *at 30 Sep*: what was posted by that day, however long ago. What was noted only later is marked.',
          'A heading sorts, again the other way, again as it was. `G` groups; a group’s row folds and says what it comes to. `D` chooses columns. Sums stand at the foot, each currency by itself.',
          '`↑` `↓` go from row to row, `Enter` opens, `P` puts the paper or the story of the row beside the list.',
          '`K` keeps it as it is now, for you or for all. The address of the page says all of it: send it to a colleague.',
          'CSV and XLSX take every row along, not only those that are shown; the PDF has the groups and sums, to be printed.',
        ],
      },
      {
        title: 'The day',
        text: 'What came in on a day and how it stands: in the books with no act of anybody’s, after one, waiting, held; two weeks drawn, a bar a day. Below, what is open now, whose turn it is and since when, and the discounts that are at stake. Each number opens its list.',
      },
      {
        title: 'Budgets',
        text: 'What each budget has in a year, with what is ordered, received and invoiced of it; the upper bar is ordered, then received, then invoiced, the stroke what is planned. A cost of a budget that nobody planned stands first. A budget’s code opens its order lines of the year. An administrator plans and changes them, as one sum or month by month, with a reason that stays in the history; *months* shows a budget by the month of its orders. *Carry over what is left…* gives it to the next year. Who orders, codes or approves more than a budget has is told by how much; whether that is refused is set under *Set up*, *Company*.',
      },
      {
        title: 'A supplier’s statement',
        steps: [
          '`N` enters one: choose the supplier and its day, then read its file (CSV, XLSX or PDF) or key it line by line. What could not be read as a line is told. Credits and payments of ours are below zero.',
          'It is held against what is here while you type: what is missing here, what differs, what is paid, what they leave out. The differences add up to that of the balances.',
          'Kept, it is read again as things stand whenever you open it, with its file beside it and among the supplier’s papers. `A` asks for all that is missing in one mail, in the supplier’s language.',
        ],
      },
      {
        title: 'Groups',
        text: 'Suppliers and items belong to groups of your own (*Set up*, *Budgets and books*, and the item’s page). Every list is narrowed by *supplier group* and *item group*, and grouped by them. A supplier that is made in a group takes its terms, budget, match level and account of payables; what it says itself stays.',
      },
      {
        title: 'Limits tried on history',
        text: 'What another limit would have done to the invoices of the last year, as they stood before anybody did anything about them. `T` goes to the value, `↑` `↓` change it by half a point, `Enter` matches again: how many would have been verified with no act, what would have passed, which suppliers gain, and beside it the invoices, what people said no to first. The curves show every value, with today’s and the one you try. An invoice that is held for two reasons passes when both do. `K` keeps a trial with a word why; `A` adopts the limit: open invoices are matched again, and until somebody else confirms it under *Set up*, it clears nothing of your own entries and orders.',
      },
      {
        title: 'A month’s end',
        steps: [
          'The list ticks itself: what is not verified, not answered by the bank, not placed on a statement, not handed to the general ledger; each leads to its work. Received and not invoiced may stand: the account says so by itself.',
          '`A` accrues what came by the last day on lines that goods book nothing on. Take lines out, add costs that came without an order. It is posted on the last day and taken back on the first, both at once.',
          '`E` hands what is posted to the general ledger as a numbered batch with its control totals; the file is taken along as CSV or XLSX, the same rows whenever. What is posted into the month later makes a batch of its own.',
          '*prove* recomputes all of the books from their documents beside the work, and says what differs; it is what `lagoon verify` does.',
          'The pack is all lists of the month in one PDF, or one XLSX with a sheet each. `C` closes the month.',
        ],
      },
      {
        title: 'The journal',
        text: 'Entries are never changed. A mistake is undone by another entry that names the first, so both stay to be seen.',
      },
      {
        title: 'The record',
        text: 'Every act with the person, the time and where it came from: also sign-ins, refused tries, tables taken out and what was done on the command line. Administrators and readers see it whole.',
      },
      everywhere,
    ],
  },
  setup: {
    title: 'Set up',
    lead: 'Suppliers, items, the company’s own rules, budgets, rates, tables in and out, and who may do what.',
    parts: [
      {
        title: 'Limits',
        text: 'How far a delivery, price or charge may differ before a person is asked. The nearest that is set counts: order line, item at this supplier, item, supplier, company. Blank is not set; zero lets nothing pass; with two values both must hold.',
      },
      {
        title: 'Mail and files',
        text: 'A mailbox that is read, mails that are handed in, a folder that is watched: each is off until an administrator sets it, and says when it looked last or what is wrong. *Try it* goes into the mailbox and takes nothing. Its password is kept for that server and user alone and never shown.',
      },
      {
        title: 'Suppliers',
        steps: [
          'A supplier that was made in a hurry is marked *incomplete*: `E` finishes it.',
          'A changed bank account is not paid to until somebody else has confirmed it and said how they checked it. One to which the bank rejected a payment is in doubt until then. A run marks the first payment to an account, and one that others have as well. Further accounts are those that its invoices may name; they are confirmed likewise.',
          'Notes show up in the stages they are for; urgent ones come first.',
          'Three holds may stand at once, each with its reason: *payment held* and *in dispute* keep its invoices from release and payment, *in dispute* warns who orders, *nothing ordered* refuses. Each is lifted by itself.',
          'How it delivers is worked out from what happened. *Lines* shows the deliveries behind a figure.',
        ],
      },
      {
        title: 'Terms of payment',
        text: 'Further discounts are smaller and come later than the first: `1% 20`; a run takes the best that can still be had. Instalments such as `30% 30, 70% 60` come to 100 and stand in place of the days net: a run pays what is due of an invoice, each with its own discount. What an invoice asks ahead is due whole.',
      },
      {
        title: 'Changing limits',
        text: 'Limits and matching are changed by themselves, with a reason; before it is kept you see which open invoices it would let pass. An invoice of your own is not freed by your own change: somebody else confirms it first.',
      },
      {
        title: 'People',
        text: 'A new person gets a one-time password and chooses their own. More roles or authority wait for a second administrator. Passwords of administrators are given on the command line only. Under *Your account* you change your password, name a substitute for your absence, and sign out everywhere.',
      },
      {
        title: 'Months of the books',
        text: 'Under *Budgets and books*: before a month is closed it shows what hangs in it, with links: invoices that are not verified, receipts that are not invoiced, spread costs that are not posted, runs that the bank has not answered. The last closed month is opened again when an administrator or treasurer asks for it with a reason and another one agrees; what became of months stands under it.',
      },
      {
        title: 'Tax codes',
        text: 'Under *Budgets and books*: a short name for a tax category with its rates, each from a day on. Orders, items, suppliers and invoice lines carry it; an item’s or a supplier’s is proposed. A later rate changes nothing that is booked. A code can have an account of its own.',
      },
      {
        title: 'Kinds of charge',
        text: 'Under *Budgets and books*: what orders plan and invoices may carry. A code lets e-invoices name the kind; one that is offered no more stays where it is used. A kind may have a tax code that is proposed with it, limits of its own that come before the company’s, and may be a part of what the goods cost: then it is spread over them by value. What a supplier always charges stands on its page and is proposed on its orders.',
      },
      {
        title: 'Accounts',
        text: 'Under *Budgets and books*: the number and name that each kind of entry has in your chart of accounts, and those of a budget, supplier or charge where they differ. What has no number is booked all the same and shows so in the journal.',
      },
      {
        title: 'Tables',
        text: 'Save a table to see its columns, fill it in, and try it: every row says what it would do, and nothing is changed. Then all rows are imported, or none.',
      },
      everywhere,
    ],
  },
}
