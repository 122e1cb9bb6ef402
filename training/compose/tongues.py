"""Languages with their countries' habits: money, dates, numbers, tax rates, legal forms, tax numbers, IBANs."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Tongue:
    """A language as it is written in one country."""

    code: str
    country: str
    locale: str
    """Of the word lists (Faker)."""
    currency: str
    signs: tuple[str, ...]
    rates: tuple[str, ...]
    marks: tuple[str, ...]
    """Thousands separator and decimal mark, as they are in use."""
    dates: tuple[str, ...]
    """Patterns of Babel."""
    legal: tuple[str, ...]
    tax_numbers: tuple[str, ...]
    """``#`` is a figure, ``?`` a letter."""
    iban: int = 0
    """Its length; 0 where there is none."""
    tax_label: tuple[str, ...] = ("VAT",)
    days: tuple[str, ...] = ("Payment within {} days",)


_EU = (".,", " ,", " .")
TONGUES = (
    Tongue("en", "GB", "en_GB", "GBP", ("£", "GBP"), ("20", "5"), (",.",), ("dd/MM/yyyy", "d MMMM yyyy", "dd MMM yyyy"),
           ("Ltd", "Limited", "LLP", "plc"), ("GB### #### ##", "GB#########", "GB ### #### ##"), 22,
           ("VAT", "VAT Reg No", "VAT no."), ("Payment within {} days of invoice date", "Terms: net {} days")),
    Tongue("en", "IE", "en_IE", "EUR", ("€", "EUR"), ("23", "13.5"), (",.",), ("dd/MM/yyyy", "d MMMM yyyy"),
           ("Ltd", "DAC", "Limited"), ("IE#######??", "IE#######?"), 22, ("VAT No",), ("Please pay within {} days",)),
    Tongue("en", "US", "en_US", "USD", ("$", "USD", "US$"), ("8.25", "7", "6.5", "0"), (",.",),
           ("MM/dd/yyyy", "MMMM d, yyyy", "MMM d, yyyy", "yyyy-MM-dd"), ("Inc.", "LLC", "Corp.", "Co."),
           ("##-#######",), 0, ("EIN", "Tax ID", "Federal Tax ID"), ("Net {} days", "Due in {} days")),
    Tongue("en", "US", "en_US", "USD", ("$", "USD", "US$"), ("8.25", "7", "6.5", "0"), (",.",),
           ("MM/dd/yyyy", "MMMM d, yyyy", "MMM d, yyyy", "yyyy-MM-dd"), ("Inc.", "LLC", "Corp.", "Co."),
           ("##-#######",), 0, ("EIN", "Tax ID", "Federal Tax ID"), ("Net {} days", "Due in {} days")),
    Tongue("en", "US", "en_US", "USD", ("$", "USD", "US$"), ("8.25", "7", "6.5", "0"), (",.",),
           ("MM/dd/yyyy", "MMMM d, yyyy", "MMM d, yyyy", "yyyy-MM-dd"), ("Inc.", "LLC", "Corp.", "Co."),
           ("##-#######",), 0, ("EIN", "Tax ID", "Federal Tax ID"), ("Net {} days", "Due in {} days")),
    Tongue("en", "CA", "en_CA", "CAD", ("$", "CAD", "C$"), ("5", "13", "15"), (",.",), ("yyyy-MM-dd", "MMMM d, yyyy"),
           ("Inc.", "Ltd.", "Corp."), ("######### RT####",), 0, ("GST/HST No.", "GST #"), ("Net {} days",)),
    Tongue("en", "NZ", "en_NZ", "NZD", ("$", "NZD"), ("15",), (",.",), ("dd/MM/yyyy", "d MMM yyyy"),
           ("Ltd", "Limited"), ("##-###-###",), 0, ("GST No.", "GST Number"), ("Due in {} days",)),
    Tongue("es", "AR", "es_AR", "ARS", ("$", "ARS"), ("21", "10.5"), (".,",), ("dd/MM/yyyy",), ("S.A.", "S.R.L.", "SAS"),
           ("##-########-#", "###########"), 0, ("CUIT", "C.U.I.T."), ("Vencimiento a {} días",)),
    Tongue("en", "AU", "en_AU", "AUD", ("$", "A$", "AUD"), ("10",), (",.",), ("dd/MM/yyyy", "d MMM yyyy"),
           ("Pty Ltd", "Pty. Ltd."), ("## ### ### ###", "###########"), 0, ("ABN", "A.B.N."), ("Terms {} days",)),
    Tongue("en", "IN", "en_IN", "INR", ("₹", "Rs.", "INR"), ("18", "12", "5"), (",.",), ("dd/MM/yyyy", "dd-MMM-yyyy"),
           ("Pvt Ltd", "Private Limited", "LLP"), ("##?????####?#Z#",), 0, ("GSTIN", "GST No."), ("Due within {} days",)),
    Tongue("de", "DE", "de_DE", "EUR", ("€", "EUR"), ("19", "7"), (".,",), ("dd.MM.yyyy", "d. MMMM yyyy", "dd.MM.yy"),
           ("GmbH", "AG", "KG", "GmbH & Co. KG", "UG (haftungsbeschränkt)", "e.K.", "OHG"), ("DE#########", "DE ### ### ###"),
           22, ("USt-IdNr.", "USt-ID", "Umsatzsteuer-ID"), ("Zahlbar innerhalb von {} Tagen ohne Abzug", "Zahlungsziel: {} Tage")),
    Tongue("de", "AT", "de_AT", "EUR", ("€", "EUR"), ("20", "10"), (".,",), ("dd.MM.yyyy", "d. MMMM yyyy"),
           ("GmbH", "AG", "OG", "e.U."), ("ATU########",), 20, ("UID", "UID-Nr."), ("Zahlbar binnen {} Tagen",)),
    Tongue("de", "CH", "de_CH", "CHF", ("CHF", "Fr."), ("8.1", "2.6"), ("'.", "’."), ("dd.MM.yyyy", "d. MMMM yyyy"),
           ("AG", "GmbH", "Sàrl"), ("CHE-###.###.###", "CHE-###.###.### MWST"), 21, ("MWST-Nr.", "UID"), ("Zahlbar innert {} Tagen",)),
    Tongue("fr", "FR", "fr_FR", "EUR", ("€", "EUR"), ("20", "10", "5.5"), (" ,",), ("dd/MM/yyyy", "d MMMM yyyy"),
           ("SARL", "SAS", "SA", "EURL", "SASU"), ("FR## #########", "FR###########"), 27, ("N° TVA", "TVA intracommunautaire"),
           ("Paiement à {} jours", "Règlement sous {} jours")),
    Tongue("es", "ES", "es_ES", "EUR", ("€", "EUR"), ("21", "10"), (".,",), ("dd/MM/yyyy", "d 'de' MMMM 'de' yyyy"),
           ("S.L.", "SL", "S.A.", "S.L.U."), ("ESB########", "B########", "########?"), 24, ("NIF", "CIF", "N.I.F."),
           ("Pago a {} días",)),
    Tongue("es", "MX", "es_MX", "MXN", ("$", "MXN"), ("16",), (",.",), ("dd/MM/yyyy",), ("S.A. de C.V.", "S. de R.L."),
           ("???######???",), 0, ("RFC",), ("Plazo: {} días",)),
    Tongue("it", "IT", "it_IT", "EUR", ("€", "EUR"), ("22", "10"), (".,",), ("dd/MM/yyyy", "d MMMM yyyy"),
           ("S.r.l.", "Srl", "S.p.A.", "SPA", "S.n.c."), ("IT###########", "###########"), 27, ("P. IVA", "Partita IVA", "P.IVA"),
           ("Pagamento a {} giorni",)),
    Tongue("nl", "NL", "nl_NL", "EUR", ("€", "EUR"), ("21", "9"), (".,",), ("dd-MM-yyyy", "d MMMM yyyy"),
           ("B.V.", "BV", "N.V.", "VOF"), ("NL#########B##",), 18, ("BTW-nummer", "Btw-nr.", "BTW-id"), ("Betalen binnen {} dagen",)),
    Tongue("nl", "BE", "nl_BE", "EUR", ("€", "EUR"), ("21", "6"), (".,",), ("dd/MM/yyyy",), ("BV", "NV", "BVBA"),
           ("BE 0###.###.###", "BE0#########"), 16, ("BTW", "Btw-nummer"), ("Betaling binnen {} dagen",)),
    Tongue("pt", "PT", "pt_PT", "EUR", ("€", "EUR"), ("23", "6"), (".,", " ,"), ("dd/MM/yyyy", "yyyy-MM-dd"),
           ("Lda", "Lda.", "S.A.", "Unipessoal Lda"), ("PT#########", "#########"), 25, ("NIF", "Contribuinte", "NIPC"),
           ("Pagamento a {} dias",)),
    Tongue("pt", "BR", "pt_BR", "BRL", ("R$",), ("17", "12"), (".,",), ("dd/MM/yyyy",), ("Ltda", "Ltda.", "S.A.", "EIRELI"),
           ("##.###.###/####-##",), 0, ("CNPJ",), ("Prazo: {} dias",)),
    Tongue("cs", "CZ", "cs_CZ", "CZK", ("Kč", "CZK"), ("21", "12"), (" ,", ".,"), ("dd.MM.yyyy", "d. M. yyyy"),
           ("s.r.o.", "a.s.", "v.o.s.", "spol. s r.o."), ("CZ########", "CZ##########"), 24, ("DIČ",), ("Splatnost {} dní",)),
    Tongue("sk", "SK", "sk_SK", "EUR", ("€", "EUR"), ("20", "10"), (" ,",), ("dd.MM.yyyy",), ("s.r.o.", "a.s."),
           ("SK##########",), 24, ("IČ DPH", "DIČ"), ("Splatnosť {} dní",)),
    Tongue("pl", "PL", "pl_PL", "PLN", ("zł", "PLN"), ("23", "8"), (" ,",), ("dd.MM.yyyy", "yyyy-MM-dd", "dd-MM-yyyy"),
           ("Sp. z o.o.", "sp. z o.o.", "S.A.", "Sp. k.", "Sp. j."), ("PL##########", "##########", "###-###-##-##"), 28, ("NIP",),
           ("Termin płatności: {} dni",)),
    Tongue("sv", "SE", "sv_SE", "SEK", ("kr", "SEK"), ("25", "12"), (" ,",), ("yyyy-MM-dd",), ("AB", "HB"), ("SE##########01",), 24,
           ("Momsreg.nr", "VAT-nr"), ("Betalningsvillkor {} dagar",)),
    Tongue("da", "DK", "da_DK", "DKK", ("kr.", "DKK", "kr"), ("25",), (".,",), ("dd-MM-yyyy", "dd.MM.yyyy"), ("ApS", "A/S", "I/S"),
           ("DK########", "########"), 18, ("CVR-nr.", "CVR"), ("Betaling: netto {} dage",)),
    Tongue("nb", "NO", "no_NO", "NOK", ("kr", "NOK"), ("25", "15"), (" ,",), ("dd.MM.yyyy",), ("AS", "ASA"),
           ("NO ### ### ### MVA", "### ### ### MVA", "NO#########MVA"), 15, ("Org.nr", "Org. nr."), ("Forfall: {} dager",)),
    Tongue("fi", "FI", "fi_FI", "EUR", ("€", "EUR"), ("25.5", "14"), (" ,",), ("d.M.yyyy", "dd.MM.yyyy"), ("Oy", "Oyj", "Ky"),
           ("FI########", "#######-#"), 18, ("Y-tunnus", "ALV-tunnus"), ("Maksuehto {} pv netto",)),
    Tongue("hu", "HU", "hu_HU", "HUF", ("Ft", "HUF"), ("27", "5"), (" ,", ".,"), ("yyyy.MM.dd.", "yyyy. MM. dd."), ("Kft.", "Zrt.", "Bt."),
           ("########-#-##", "HU########"), 28, ("Adószám",), ("Fizetési határidő: {} nap",)),
    Tongue("ro", "RO", "ro_RO", "RON", ("lei", "RON"), ("19", "9"), (".,",), ("dd.MM.yyyy", "dd/MM/yyyy"), ("SRL", "S.R.L.", "SA"),
           ("RO########",), 24, ("CIF", "CUI"), ("Plata în {} zile",)),
    Tongue("hr", "HR", "hr_HR", "EUR", ("€", "EUR"), ("25", "13"), (".,",), ("dd.MM.yyyy.", "d.M.yyyy."), ("d.o.o.", "j.d.o.o."),
           ("HR###########", "###########"), 21, ("OIB",), ("Rok plaćanja {} dana",)),
    Tongue("sl", "SI", "sl_SI", "EUR", ("€", "EUR"), ("22", "9.5"), (".,",), ("dd.MM.yyyy", "d. M. yyyy"), ("d.o.o.", "d.d."),
           ("SI########",), 19, ("ID za DDV",), ("Plačilo v {} dneh",)),
    Tongue("lt", "LT", "lt_LT", "EUR", ("€", "EUR"), ("21",), (" ,", ".,"), ("yyyy-MM-dd",), ("UAB", "MB"), ("LT#########",), 20,
           ("PVM kodas",), ("Apmokėti per {} dienų",)),
    Tongue("lv", "LV", "lv_LV", "EUR", ("€", "EUR"), ("21", "12"), (" ,",), ("dd.MM.yyyy",), ("SIA", "AS"), ("LV###########",), 21,
           ("PVN reģ. Nr.",), ("Apmaksa {} dienu laikā",)),
    Tongue("et", "EE", "et_EE", "EUR", ("€", "EUR"), ("22",), (" ,", " ."), ("dd.MM.yyyy",), ("OÜ", "AS"), ("EE#########",), 20,
           ("KMKR",), ("Maksetähtaeg {} päeva",)),
    Tongue("tr", "TR", "tr_TR", "TRY", ("TL", "₺", "TRY"), ("20", "10"), (".,",), ("dd.MM.yyyy",), ("A.Ş.", "Ltd. Şti."), ("##########",), 26,
           ("VKN", "Vergi No"), ("Vade: {} gün",)),
)  # fmt: skip
