"""How invoices are worded in eight languages: two wordings each, the second for the templates set aside."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Wording:
    """The printed words of one invoice form. ``days`` and ``receipt`` state when to pay without a date."""

    title: str
    credit: str
    number: str
    date: str
    due: str
    order: str
    customer: str
    bill_to: str
    vat_id: str
    net: str
    tax: str
    total: str
    days: str
    receipt: str
    columns: tuple[str, str, str, str]
    goods: tuple[str, str, str, str]
    bank: str = "IBAN"


@dataclass(frozen=True)
class Tongue:
    """A language with its country's habits."""

    code: str
    marks: str
    """Thousands separator and decimal mark."""
    dates: tuple[str, ...]
    currency: str
    sign: str
    rates: tuple[str, ...]
    legal: tuple[str, ...]
    wordings: tuple[Wording, Wording]


TONGUES = (
    Tongue("en", ",.", ("%d/%m/%Y", "d B Y", "%d-%b-%Y"), "GBP", "£", ("20", "5"), ("Ltd", "LLP", "plc"), (
        Wording("INVOICE", "CREDIT NOTE", "Invoice No", "Invoice Date", "Payment Due", "Your Order No", "Account No",
                "Bill to", "VAT Reg No", "Net total", "VAT", "Total", "Payment within {} days of invoice date",
                "Payable on receipt", ("Description", "Qty", "Unit price", "Amount"),
                ("Hinge, brass", "Site visit", "Copper pipe 15 mm", "Delivery")),
        Wording("Tax Invoice", "Credit Memo", "Document number", "Date issued", "Please pay by", "PO reference",
                "Client ID", "Customer", "VAT ID", "Total excluding VAT", "VAT amount", "Amount payable",
                "Terms: {} days net", "Due upon receipt", ("Item", "Quantity", "Price", "Line total"),
                ("Pump repair", "Gasket set", "Labour", "Freight"), "Bank account"))),
    Tongue("de", ".,", ("%d.%m.%Y", "d. B Y"), "EUR", "€", ("19", "7"), ("GmbH", "AG", "KG", "GmbH & Co. KG"), (
        Wording("Rechnung", "Gutschrift", "Rechnungsnummer", "Rechnungsdatum", "Fällig am", "Ihre Bestellnummer",
                "Kundennummer", "Rechnungsempfänger", "USt-IdNr.", "Nettobetrag", "MwSt.", "Gesamtbetrag",
                "Zahlbar innerhalb von {} Tagen ohne Abzug", "Zahlbar sofort nach Erhalt",
                ("Bezeichnung", "Menge", "Einzelpreis", "Betrag"),
                ("Schraube M8, verzinkt", "Arbeitsstunde", "Dichtung", "Anfahrt")),
        Wording("RECHNUNG", "GUTSCHRIFT", "Belegnummer", "Belegdatum", "Zahlbar bis", "Bestell-Nr.", "Kd.-Nr.", "Kunde",
                "Ust-ID", "Summe netto", "Umsatzsteuer", "Rechnungsbetrag", "Zahlungsziel: {} Tage netto",
                "Sofort fällig", ("Artikel", "Anzahl", "Preis", "Gesamt"),
                ("Wartung der Anlage", "Ölfilter", "Schlauch 2 m", "Fracht")))),
    Tongue("fr", " ,", ("%d/%m/%Y", "d B Y"), "EUR", "€", ("20", "10"), ("SARL", "SAS", "SA"), (
        Wording("FACTURE", "AVOIR", "Numéro de facture", "Date de facture", "Date d'échéance", "Votre commande",
                "N° client", "Facturé à", "N° TVA", "Total HT", "TVA", "Total TTC",
                "Règlement à {} jours date de facture", "Paiement à réception",
                ("Désignation", "Quantité", "Prix unitaire", "Montant"),
                ("Vis inox", "Main d'œuvre", "Joint", "Déplacement")),
        Wording("Facture", "Facture d'avoir", "Facture N°", "Émise le", "À payer avant le", "Réf. commande",
                "Code client", "Client", "TVA intracommunautaire", "Montant HT", "Montant TVA", "Net à payer",
                "Conditions : {} jours nets", "Payable dès réception", ("Libellé", "Qté", "PU", "Total"),
                ("Entretien", "Filtre à huile", "Tuyau 2 m", "Port"), "Compte"))),
    Tongue("es", ".,", ("%d/%m/%Y", "d de B de Y"), "EUR", "€", ("21", "10"), ("S.L.", "S.A."), (
        Wording("FACTURA", "FACTURA RECTIFICATIVA", "Número de factura", "Fecha de factura", "Vencimiento", "Su pedido",
                "N.º de cliente", "Facturar a", "NIF", "Base imponible", "IVA", "Total factura",
                "Pago a {} días fecha factura", "Pago a la recepción", ("Descripción", "Cantidad", "Precio", "Importe"),
                ("Tornillo inoxidable", "Mano de obra", "Junta", "Desplazamiento")),
        Wording("Factura", "Abono", "Factura n.º", "Fecha de emisión", "Fecha de vencimiento", "Pedido n.º", "Cód. cliente",
                "Cliente", "N.I.F.", "Subtotal", "Cuota IVA", "Total a pagar", "Plazo de pago: {} días",
                "Pagadero al recibo", ("Concepto", "Uds.", "P. unit.", "Total"),
                ("Revisión", "Filtro", "Manguera 2 m", "Portes"), "Cuenta"))),
    Tongue("it", ".,", ("%d/%m/%Y", "d B Y"), "EUR", "€", ("22", "10"), ("S.r.l.", "S.p.A."), (
        Wording("FATTURA", "NOTA DI CREDITO", "Numero fattura", "Data fattura", "Scadenza", "Vostro ordine",
                "Codice cliente", "Spett.le", "P. IVA", "Imponibile", "IVA", "Totale fattura",
                "Pagamento a {} giorni data fattura", "Pagamento alla ricezione",
                ("Descrizione", "Quantità", "Prezzo", "Importo"),
                ("Vite inox", "Manodopera", "Guarnizione", "Trasferta")),
        Wording("Fattura", "Nota di accredito", "Fattura n.", "Data emissione", "Da pagare entro il", "Rif. ordine",
                "Cod. cliente", "Cliente", "Partita IVA", "Totale imponibile", "Imposta", "Totale da pagare",
                "Termini: {} giorni", "A vista", ("Articolo", "Q.tà", "Prezzo unit.", "Totale"),
                ("Manutenzione", "Filtro olio", "Tubo 2 m", "Spedizione")))),
    Tongue("nl", ".,", ("%d-%m-%Y", "d B Y"), "EUR", "€", ("21", "9"), ("B.V.", "N.V."), (
        Wording("FACTUUR", "CREDITNOTA", "Factuurnummer", "Factuurdatum", "Vervaldatum", "Uw bestelling", "Klantnummer",
                "Factuur aan", "Btw-nummer", "Subtotaal", "Btw", "Totaal", "Betaling binnen {} dagen na factuurdatum",
                "Betaling bij ontvangst", ("Omschrijving", "Aantal", "Prijs", "Bedrag"),
                ("Schroef rvs", "Arbeidsloon", "Pakking", "Voorrijkosten")),
        Wording("Factuur", "Creditfactuur", "Factuur nr.", "Datum factuur", "Te betalen voor", "Ordernummer", "Klantnr.",
                "Klant", "BTW-id", "Totaal excl. btw", "Btw-bedrag", "Te betalen", "Betaaltermijn {} dagen",
                "Direct te voldoen", ("Artikel", "Stuks", "Stuksprijs", "Totaal"),
                ("Onderhoud", "Oliefilter", "Slang 2 m", "Vracht"), "Rekening"))),
    Tongue("pt", ".,", ("%d/%m/%Y", "d de B de Y"), "EUR", "€", ("23", "6"), ("Lda", "S.A."), (
        Wording("FATURA", "NOTA DE CRÉDITO", "Fatura n.º", "Data da fatura", "Vencimento", "Vossa encomenda",
                "N.º de cliente", "Faturado a", "NIF", "Total sem IVA", "IVA", "Total a pagar",
                "Pagamento a {} dias da data da fatura", "Pagamento contra receção",
                ("Descrição", "Quantidade", "Preço", "Valor"),
                ("Parafuso inox", "Mão de obra", "Junta", "Deslocação")),
        Wording("Fatura", "Nota de crédito", "Número da fatura", "Data de emissão", "Data de vencimento", "Encomenda n.º",
                "Cód. cliente", "Cliente", "Contribuinte", "Base tributável", "Valor do IVA", "Total da fatura",
                "Prazo de pagamento: {} dias", "Pronto pagamento", ("Artigo", "Qtd.", "Preço unit.", "Total"),
                ("Manutenção", "Filtro", "Mangueira 2 m", "Portes")))),
    Tongue("cs", " ,", ("%d.%m.%Y", "d. B Y"), "CZK", "Kč", ("21", "12"), ("s.r.o.", "a.s."), (
        Wording("FAKTURA", "DOBROPIS", "Číslo faktury", "Datum vystavení", "Datum splatnosti", "Vaše objednávka",
                "Číslo zákazníka", "Odběratel", "DIČ", "Základ daně", "DPH", "Celkem k úhradě",
                "Splatnost {} dnů od vystavení", "Splatné ihned", ("Popis", "Množství", "Cena", "Částka"),
                ("Šroub nerez", "Práce", "Těsnění", "Doprava")),
        Wording("Faktura – daňový doklad", "Opravný daňový doklad", "Faktura č.", "Vystaveno dne", "Splatnost",
                "Objednávka č.", "Zákazník č.", "Zákazník", "DIČ", "Celkem bez DPH", "Částka DPH", "K úhradě",
                "Splatnost: {} dní", "Platba při převzetí", ("Položka", "Ks", "Cena/ks", "Celkem"),
                ("Údržba", "Olejový filtr", "Hadice 2 m", "Dopravné"), "Účet"))),
)  # fmt: skip
