/**
 * The words by which people name columns of sales data, in English, German, Spanish, French,
 * Italian, Portuguese and Dutch: lower case, without accents.
 */
const VOCABULARY = {
  id: 'id nr no num number numero nummer numer code codigo codice key sku ref reference referencia ean isbn barcode plz zip postcode postal phone telefon telefono index row line#',
  amount:
    'amount amounts revenue sales turnover value total net gross takings income receipts earnings spend spent paid payment fees umsatz umsatze betrag erlos erlose einnahmen wert summe gesamt netto brutto importe venta ventas ingreso ingresos facturacion monto montant chiffre ca vente ventes recette recettes valeur ricavo ricavi importo vendita vendite fatturato incasso incassi valor venda vendas receita receitas bedrag omzet opbrengst waarde',
  cost: 'cost costs expense expenses cogs kosten aufwand einkauf coste costes costo costos gasto gastos cout couts frais depense depenses spesa spese custo custos despesa despesas uitgaven',
  quantity:
    'quantity qty pieces units items count sold volume visitors visits guests tickets seats hours minutes menge stuck anzahl besucher stunden cantidad unidades piezas visitantes horas quantite unites visiteurs heures quantita pezzi unita visitatori ore quantidade pecas aantal stuks bezoekers uren kg litres liters',
  price:
    'price preis precio prix prezzo preco prijs fee tariff rent unitprice einzelpreis stuckpreis verkaufspreis salary wage gehalt lohn salario salaire stipendio',
  level:
    'stock level inventory balance headcount age score rating stars temperature weight height bestand lagerbestand stand saldo alter bewertung temperatur existencias inventario nivel edad puntuacion niveau age giacenza eta punteggio voto estoque idade pontuacao voorraad leeftijd latitude longitude lat lon lng',
  rate: 'rate percent pct percentage share margin ratio quote satz anteil marge prozent tasa porcentaje cuota margen taux part tasso percentuale quota margine taxa percentual margem aandeel discount rabatt descuento remise sconto desconto korting tax vat iva mwst tva btw conversion',
  target:
    'target plan planned budget goal soll ziel planwert objetivo meta presupuesto objectif budgete obiettivo orcamento doel forecast prognose prevision previsione previsao',
  previous: 'last previous prior lastyear vorjahr anterior precedent precedente passado vorig ly py',
  status:
    'status state stage phase condition zustand stadium estado fase etat statut stade stato situacao toestand flag outcome result',
  color: 'color colour farbe couleur colore cor kleur hex rgb',
  picture: 'picture image photo logo bild foto imagen immagine imagem afbeelding thumbnail',
  text: 'note notes comment comments remark remarks description bemerkung kommentar notiz beschreibung comentario nota observaciones descripcion commentaire remarque descrizione observacao opmerking feedback answer reason',
  attributeDate:
    'born birth birthday birthdate hired hire hiring employed joined opened founded built since geburt geburtsdatum geboren eingestellt einstellung eintritt eroffnet nacimiento contratacion alta apertura naissance embauche ouverture nascita assunzione apertura nascimento admissao geboorte start expiry expires valid',
  eventDate:
    'date day month week quarter year time sold ordered order booked invoiced invoice transaction visit datum tag monat woche jahr quartal verkauft bestellt buchung rechnung fecha dia mes semana ano trimestre pedido jour mois semaine annee commande data giorno mese settimana anno ordine dia pedido datum dag maand week jaar bestelling',
  laterDate:
    'shipped delivered delivery due paid payment sent returned updated modified geliefert lieferung fallig bezahlt versandt entrega entregado vencimiento pagado livraison livre echeance paye consegna scadenza pagato entrega vencimento pago geleverd betaald vervaldatum',
  figure:
    'figure measure metric kpi indicator item variable kennzahl messgrosse merkmal indicador medida metrica magnitud indicateur mesure misura indicatore metric kengetal attribute account konto cuenta compte conto',
  value: 'value amount number wert betrag zahl valor cifra valeur montant nombre valore numero quantia waarde bedrag',
  owed: 'outstanding overdue owed open unpaid due offen ausstehend uberfallig pendiente deuda vencido impaye dette scoperto insoluto aberto openstaand debt complaints returns refunds defects delay churn retouren reklamationen devoluciones retours resi',
} as const

export type Meaning = keyof typeof VOCABULARY

const SETS = new Map<Meaning, ReadonlySet<string>>(
  Object.entries(VOCABULARY).map(([meaning, words]) => [meaning as Meaning, new Set(words.split(' '))]),
)

/** The words of a name: `OrderDate` and `order_date` are order and date. */
export function wordsOf(name: string): string[] {
  const plain = name
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replaceAll('ß', 'ss')
    .replace(/(\p{Ll})(\p{Lu})/gu, '$1 $2')
    .toLowerCase()
  return plain.match(/[\p{L}]+#?|\p{N}+/gu) ?? []
}

/** A compound ends with its meaning: `Kundennummer`, `Verkaufspreis`. */
const MIN_COMPOUND_TAIL = 5

/** Whether a column is named like that. */
export function means(name: string, meaning: Meaning): boolean {
  const set = SETS.get(meaning) as ReadonlySet<string>
  return wordsOf(name).some((word) => {
    if (set.has(word)) return true
    if (word.length <= MIN_COMPOUND_TAIL) return false
    for (let at = 2; at <= word.length - MIN_COMPOUND_TAIL; at++) if (set.has(word.slice(at))) return true
    return false
  })
}

const MONTHS: readonly (readonly string[])[] = [
  'jan january januar janner enero janv janvier gen gennaio janeiro januari'.split(' '),
  'feb february februar febrero fev fevrier febbraio fevereiro februari'.split(' '),
  'mar march marz mrz marzo mars marco maart mrt'.split(' '),
  'apr april abr abril avr avril aprile'.split(' '),
  'may mai mayo mag maggio maio mei'.split(' '),
  'jun june juni junio juin giu giugno junho'.split(' '),
  'jul july juli julio juil juillet lug luglio julho'.split(' '),
  'aug august ago agosto aout augustus'.split(' '),
  'sep sept september septiembre septembre set settembre setembro'.split(' '),
  'oct october okt oktober octubre octobre ott ottobre outubro out'.split(' '),
  'nov november noviembre novembre novembro'.split(' '),
  'dec december dez dezember dic diciembre decembre dicembre dezembro'.split(' '),
]

/** The month that a word names, from 1; undefined if none. */
export function monthOf(word: string): number | undefined {
  const index = MONTHS.findIndex((names) => names.includes(word))
  return index < 0 ? undefined : index + 1
}
