"""What can hurt somebody, by the word a material carries for it."""

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
