"""Papers of every kind that the shelf has a starter for, as a stranger might word and lay them out: ``PAPERS``.

Each label has two wordings, the second for the papers set aside. The layouts are those of the invoices, likewise halved.
"""

from __future__ import annotations

from dataclasses import dataclass, field

Words = tuple[str, str]


@dataclass(frozen=True)
class Slot:
    """One value: the field that it is the truth of, what sort it is, and its label in each language."""

    key: str
    sort: str
    en: Words
    de: Words
    fr: Words


@dataclass(frozen=True)
class Paper:
    """A kind of paper: its titles, the field that the letterhead is, its values, and what else stands on it."""

    en: Words
    de: Words
    fr: Words
    letterhead: str
    slots: tuple[Slot, ...]
    body: str = ""
    prose: dict[str, Words] = field(default_factory=dict)
    """Some papers have their values in sentences: {key} stands for the value."""


S = Slot
CUSTOMER = S("customer_number", "digits", ("Customer no.", "Your account"), ("Kundennummer", "Debitor"),
             ("N° client", "Code client"))  # fmt: skip
ORDER = S("order_reference", "code PO", ("Your order no.", "PO reference"), ("Bestellnummer", "Ihre Bestellung"),
          ("Votre commande", "Réf. commande"))  # fmt: skip
SUMS = (
    S("net_total", "net", ("Net total", "Subtotal"), ("Nettobetrag", "Zwischensumme"), ("Total HT", "Montant HT")),
    S("tax_total", "tax", ("VAT 20 %", "VAT amount"), ("MwSt. 20 %", "USt."), ("TVA 20 %", "Montant TVA")),
    S(
        "grand_total",
        "gross",
        ("Total", "Order total"),
        ("Gesamtbetrag", "Auftragswert"),
        ("Total TTC", "Total commande"),
    ),
)

PAPERS = {
    "supplier-statement": Paper(
        ("Statement of account", "Account statement"), ("Kontoauszug", "Offene Posten"), ("Relevé de compte", "Relevé"),
        "seller_name", (
            CUSTOMER,
            S("statement_date", "date", ("Statement date", "As at"), ("Auszugsdatum", "Stand per"), ("Date du relevé", "Arrêté au")),
            S("opening_balance", "amount", ("Opening balance", "Brought forward"), ("Saldovortrag", "Alter Saldo"),
              ("Solde initial", "Ancien solde")),
            S("closing_balance", "amount", ("Balance due", "Total outstanding"), ("Offener Saldo", "Neuer Saldo"),
              ("Solde dû", "Nouveau solde")),
            S("seller_iban", "iban", ("IBAN", "Pay to"), ("IBAN", "Bankverbindung"), ("IBAN", "Compte")),
        ), "amounts"),
    "delivery-note": Paper(
        ("Delivery note", "Despatch note"), ("Lieferschein", "Warenbegleitschein"), ("Bon de livraison", "Bordereau d’envoi"),
        "supplier_name", (
            S("delivery_number", "code DN", ("Delivery note no.", "Despatch no."), ("Lieferschein-Nr.", "Liefernummer"),
              ("N° de bon de livraison", "N° BL")),
            S("delivery_date", "date", ("Delivery date", "Shipped on"), ("Lieferdatum", "Versand am"),
              ("Date de livraison", "Expédié le")),
            ORDER, CUSTOMER,
            S("recipient", "firm", ("Deliver to", "Consignee"), ("Lieferadresse", "Warenempfänger"), ("Livré à", "Destinataire")),
            S("packages", "count", ("Packages", "Number of parcels"), ("Packstücke", "Anzahl Colli"), ("Colis", "Nombre de colis")),
            S("gross_weight", "kg", ("Gross weight", "Total weight"), ("Bruttogewicht", "Gesamtgewicht"),
              ("Poids brut", "Poids total")),
        ), "goods"),
    "purchase-order": Paper(
        ("Purchase order", "Order"), ("Bestellung", "Einkaufsauftrag"), ("Bon de commande", "Commande"), "buyer_name", (
            S("order_number", "code PO", ("Order no.", "P.O. number"), ("Bestellnummer", "Bestell-Nr."),
              ("N° de commande", "Commande n°")),
            S("order_date", "date", ("Order date", "Date raised"), ("Bestelldatum", "Bestellt am"),
              ("Date de commande", "Commandé le")),
            S("wanted_by", "later", ("Required by", "Deliver by"), ("Liefertermin", "Zu liefern bis"),
              ("Livraison souhaitée", "À livrer avant le")),
            S("supplier_name", "firm", ("Supplier", "Vendor"), ("Lieferant", "Auftragnehmer"), ("Fournisseur", "Vendeur")),
            *SUMS,
        ), "goods"),
    "order-confirmation": Paper(
        ("Order confirmation", "Order acknowledgement"), ("Auftragsbestätigung", "Bestätigung"),
        ("Confirmation de commande", "Accusé de réception"), "supplier_name", (
            S("confirmation_number", "code OC", ("Confirmation no.", "Acknowledgement no."),
              ("Auftragsbestätigung Nr.", "Unser Auftrag"), ("N° de confirmation", "AR n°")),
            S("confirmation_date", "date", ("Date", "Acknowledged on"), ("Datum", "Bestätigt am"), ("Date", "Confirmé le")),
            ORDER,
            S("delivery_date", "later", ("Expected delivery", "Promised for"), ("Liefertermin", "Voraussichtliche Lieferung"),
              ("Livraison prévue le", "Délai confirmé")),
            CUSTOMER, *SUMS,
        ), "goods"),
    "receipt": Paper(
        ("Receipt", "Thank you for your visit"), ("Quittung", "Vielen Dank"), ("Reçu", "Merci de votre visite"), "merchant", (
            S("receipt_number", "digits", ("Receipt no.", "Sale"), ("Beleg-Nr.", "Bon-Nr."), ("Ticket n°", "N° de reçu")),
            S("date", "date", ("Date", "Date"), ("Datum", "Datum"), ("Date", "Date")),
            S("payment", "payment", ("Paid by", "Payment"), ("Zahlungsart", "Bezahlt mit"), ("Mode de paiement", "Règlement")),
            S("tax_total", "tax", ("VAT", "of which VAT"), ("MwSt.", "darin MwSt."), ("TVA", "dont TVA")),
            S("grand_total", "gross", ("Total", "Amount paid"), ("Summe", "Zu zahlen"), ("Total", "Montant payé")),
        ), "goods"),
    "application-form": Paper(
        ("Application for a market stall", "Application for a parking permit"),
        ("Antrag auf einen Stellplatz", "Antrag auf Sondernutzung"), ("Demande d’emplacement", "Demande de carte"), "", (
            S("application_number", "code AP", ("Application no.", "Case number"), ("Antragsnummer", "Aktenzeichen"),
              ("N° de demande", "N° de dossier")),
            S("applicant", "person", ("Applicant", "Full name"), ("Antragsteller", "Vor- und Nachname"),
              ("Demandeur", "Nom et prénom")),
            S("born_on", "early", ("Date of birth", "Born on"), ("Geburtsdatum", "Geboren am"), ("Date de naissance", "Né(e) le")),
            S("address", "address", ("Address", "Home address"), ("Anschrift", "Wohnanschrift"), ("Adresse", "Domicile")),
            S("phone", "phone", ("Phone", "Daytime phone"), ("Telefon", "Telefonnummer"), ("Téléphone", "Tél.")),
            S("email", "email", ("E-mail", "Email address"), ("E-Mail", "E-Mail-Adresse"), ("Courriel", "Adresse e-mail")),
            S("applied_on", "date", ("Date of application", "Signed on"), ("Antragsdatum", "Unterschrieben am"),
              ("Date de la demande", "Fait le")),
        ), "prose"),
    "contract": Paper(
        ("Licence agreement", "Lease"), ("Lizenzvertrag", "Mietvertrag"), ("Contrat de licence", "Contrat de location"), "", (
            S("contract_number", "code C", ("Contract no.", "Agreement ref."), ("Vertragsnummer", "Vertrag Nr."),
              ("N° de contrat", "Contrat n°")),
            S("party_one", "firm", ("Licensor", "Lessor"), ("Lizenzgeber", "Vermieter"), ("Concédant", "Bailleur")),
            S("party_two", "firm", ("Licensee", "Tenant"), ("Lizenznehmer", "Mieter"), ("Licencié", "Locataire")),
            S("signed_on", "date", ("Signed on", "Dated"), ("Unterzeichnet am", "Geschlossen am"), ("Signé le", "Fait le")),
            S("starts_on", "later", ("Start date", "Effective from"), ("Vertragsbeginn", "Gültig ab"), ("Date d’effet", "Début")),
            S("ends_on", "last", ("Expiry date", "Valid until"), ("Vertragsende", "Gültig bis"), ("Date de fin", "Expire le")),
            S("fee", "amount", ("Annual fee", "Monthly rent"), ("Jahresgebühr", "Monatsmiete"), ("Redevance annuelle", "Loyer")),
            S("notice", "notice", ("Notice period", "Period of notice"), ("Kündigungsfrist", "Frist zur Kündigung"),
              ("Préavis", "Délai de préavis")),
        ), "prose", {"en": (
            "Contract no. {contract_number}. This agreement is made on {signed_on} between {party_one}, and the licensee "
            "{party_two}, both of Quillon. It is in force from {starts_on} until {ends_on}. The annual fee of {fee} is payable in advance. "
            "Notice period: {notice}",
            "Agreement ref. {contract_number}, dated {signed_on}. Lessor: {party_one}, Quillon. Tenant: {party_two}, Estrel. The term runs "
            "with effect from {starts_on} and is valid until {ends_on}; the rent is {fee} a month. Period of notice: {notice}")}),
    "inspection-report": Paper(
        ("Inspection report", "Survey report"), ("Prüfbericht", "Prüfprotokoll"), ("Rapport d’inspection", "Procès-verbal"), "", (
            S("report_number", "code R", ("Report no.", "Survey no."), ("Bericht Nr.", "Protokoll-Nr."),
              ("N° de rapport", "PV n°")),
            S("inspected_on", "date", ("Date of inspection", "Surveyed on"), ("Prüfdatum", "Geprüft am"),
              ("Date d’inspection", "Contrôlé le")),
            S("object", "object", ("Object", "Equipment"), ("Prüfobjekt", "Anlage"), ("Objet", "Matériel")),
            S("place", "place", ("Location", "Site"), ("Ort der Prüfung", "Standort"), ("Lieu", "Emplacement")),
            S("client", "firm", ("Client", "Owner"), ("Auftraggeber", "Betreiber"), ("Donneur d’ordre", "Exploitant")),
            S("inspector", "person", ("Inspector", "Surveyor"), ("Prüfer", "Sachverständiger"), ("Inspecteur", "Contrôlé par")),
            S("result", "result", ("Result", "Overall condition"), ("Ergebnis", "Zustand"), ("Résultat", "Conclusion")),
            S("next_due", "last", ("Next inspection due", "Next survey"), ("Nächste Prüfung", "Nächster Prüftermin"),
              ("Prochaine inspection", "Prochain contrôle")),
        ), "prose"),
    "packing-list": Paper(
        ("Packing list", "Packing slip"), ("Packliste", "Packzettel"), ("Liste de colisage", "Note de colisage"), "shipper", (
            S("list_number", "code PL", ("Packing list no.", "Packing slip no."), ("Packlisten-Nr.", "Packzettel Nr."),
              ("Liste de colisage n°", "N° de colisage")),
            S("date", "date", ("Date", "Date packed"), ("Datum", "Verpackt am"), ("Date", "Emballé le")),
            S("invoice_reference", "code INV", ("Invoice no.", "Commercial invoice"), ("Rechnungsnummer", "Handelsrechnung"),
              ("N° de facture", "Facture commerciale")),
            S("consignee", "firm", ("Consignee", "Ship to"), ("Empfänger", "Lieferadresse"), ("Destinataire", "Livré à")),
            S("packages", "count", ("No. of packages", "Total cartons"), ("Packstücke", "Anzahl Kartons"),
              ("Nombre de colis", "Total colis")),
            S("net_weight", "kg", ("Net weight", "Total net"), ("Nettogewicht", "Gewicht netto"), ("Poids net", "Total net")),
            S("gross_weight", "more kg", ("Gross weight", "Total gross"), ("Bruttogewicht", "Gewicht brutto"),
              ("Poids brut", "Total brut")),
        ), "goods"),
    "bank-statement": Paper(
        ("Bank statement", "Account statement"), ("Kontoauszug", "Auszug"), ("Relevé bancaire", "Extrait de compte"), "bank", (
            S("holder", "firm", ("Account holder", "Account name"), ("Kontoinhaber", "Inhaber"), ("Titulaire", "Intitulé du compte")),
            S("iban", "iban", ("IBAN", "IBAN"), ("IBAN", "IBAN"), ("IBAN", "IBAN")),
            S("statement_number", "slash", ("Statement no.", "Sheet no."), ("Auszug Nr.", "Kontoauszugsnummer"),
              ("Relevé n°", "N° d’extrait")),
            S("from_date", "date", ("From", "Period from"), ("Vom", "Zeitraum von"), ("Du", "Période du")),
            S("to_date", "later", ("To", "End of period"), ("Bis", "bis zum"), ("Au", "Arrêté au")),
            S("opening_balance", "amount", ("Opening balance", "Previous balance"), ("Anfangssaldo", "Alter Kontostand"),
              ("Solde initial", "Ancien solde")),
            S("closing_balance", "amount", ("Closing balance", "New balance"), ("Endsaldo", "Neuer Kontostand"),
              ("Solde final", "Nouveau solde")),
        ), "amounts"),
    "certificate": Paper(
        ("Certificate", "Certificate of conformity"), ("Zertifikat", "Bescheinigung"), ("Certificat", "Attestation"), "", (
            S("certificate_number", "code Z", ("Certificate no.", "Registration no."), ("Zertifikat Nr.", "Bescheinigung Nr."),
              ("Certificat n°", "N° d’enregistrement")),
            S("holder", "firm", ("Issued to", "This is to certify that"), ("Ausgestellt für", "Zertifikatsinhaber"),
              ("Délivré à", "Nous certifions que")),
            S("issued_on", "date", ("Date of issue", "Issued on"), ("Ausgestellt am", "Erteilt am"), ("Délivré le", "Émis le")),
            S("valid_until", "last", ("Valid until", "Expires on"), ("Gültig bis", "Ablaufdatum"),
              ("Valable jusqu’au", "Date d’expiration")),
            S("standard", "standard", ("Standard", "In accordance with"), ("Norm", "Regelwerk"), ("Norme", "Référentiel")),
            S("scope", "scope", ("Scope", "Applies to"), ("Geltungsbereich", "Gilt für"), ("Périmètre", "Portée")),
        ), "prose"),
}  # fmt: skip
