"""Words that every page of a language has: they tell the language, not what the page is."""

from __future__ import annotations

STOP_WORDS = frozenset(
    """
    the of and to in a is for on that with by as at from or this be are an it not you your we our can will if have has
    was were which all any may its their they he she his her them been would should must more other such than
    der die das und in den von zu mit sich des auf fur ist im dem nicht ein eine als auch es an werden aus er hat dass
    sie nach wird bei einer um am sind noch wie einem uber einen so zum war haben nur oder aber vor zur bis mehr durch
    wir ihr ihre ihrer ihnen ihren uns
    le la les de des du et en un une est pour que qui dans par sur au aux avec plus ne pas ce se il elle sont ou nous
    vous votre notre cette ces son sa ses leur d l
    el los las y una es por con para del al lo como mas o su sus no
    gli i di e per che non da della dei delle alla nel si sono piu
    os as do dos das em na nos nas um uma com nao ao sua seu
    het een van op te dat met voor niet zijn aan er om ook dan door over bij uit naar
    og det til som pa med han af ikke var men et har och att jag hon sig sa ar
    w z nie to jest jak od za przez oraz v je s k po ve bir icin
    """.split()  # noqa: SIM905 - forty lines of quoted words are no better to read
)
"""Without case and accents; of the languages of Europe that are written in Latin letters."""
