"""What can hurt somebody, by the word a material carries for it: at the bench, and where the piece ends up."""

from collections.abc import Iterator

from mirvel.core.goods.facts import HeadForm
from mirvel.core.goods.material import STRONG_SCENT, Material, Toxicity

HAZARDS = {
    "thorns": "Thorns: wear gloves; take thorns off one by one, cutting away from the hand.",
    "sap": "Sap may irritate skin: gloves, wash hands; stop and get advice for a rash.",
    "poison": "Poisonous if eaten, to people and animals: ask about children and pets. In doubt call the local "
    "poison centre or a vet at once.",
    "cats": "Deadly to cats, the water too: ask about cats at the order and say so on the card.",
    "pollen": "Pollen stains and troubles breathing: take stamens out; wards and care homes have their own rules.",
    "scent": "Strong scent: ask before sending to a ward, a care home or a small room.",
    "strong-sap": "Milky sap burns eyes and skin: gloves and eye protection; rinse at once and get advice.",
    "upset": "May upset people and pets if eaten: keep out of reach.",
    "dust": "Dry, it is dusty and burns easily: damp it, keep it from any flame.",
    "fruit": "Decoration only, not to be eaten: sticks and wires inside. Ripening fruit ages flowers; take it out when "
    "it softens.",
    "edges": "Leaf edges cut fingers: draw blades through from the base, with gloves.",
    "wires": "Cut wire stems are sharp: gloves, turn the ends in or tape them; none may stick out of the piece.",
    "points": "Stiff points at eye height: trim or turn them away.",
}

# The same for who takes the piece home, the gravest first; what only hurts at the bench is left out.
AT_HOME = {
    "poison": "poisonous if eaten; out of reach of children and animals. In doubt call the local poison centre or a "
    "vet at once.",
    "cats": "deadly to cats, the water too; not where cats live.",
    "upset": "may upset people and pets if eaten; out of reach.",
    "fruit": "decoration only, not to be eaten.",
    "scent": "strongly scented; not for a sickroom or a small room.",
    "pollen": "pollen stains, and may trouble breathing.",
    "strong-sap": "milky sap burns eyes and skin; leave the stems alone.",
    "sap": "sap may irritate skin; wash hands after touching the stems.",
    "points": "stiff points; not at a child’s eye height.",
    "thorns": "thorns.",
}
_TOXIC = {Toxicity.MILD: "upset", Toxicity.SERIOUS: "poison", Toxicity.CATS: "cats"}


def get_hazards(material: Material) -> Iterator[str]:
    """What a material carries, and what its other facts say of it."""
    yield from material.hazards
    if material.toxicity in _TOXIC and not set(_TOXIC.values()) & set(material.hazards):
        yield _TOXIC[material.toxicity]
    if material.scent >= STRONG_SCENT and "scent" not in material.hazards:
        yield "scent"
    if material.pollen and "pollen" not in material.hazards:
        yield "pollen"
    if material.form is HeadForm.TWIG and "points" not in material.hazards:
        yield "points"
