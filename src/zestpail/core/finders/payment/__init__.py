"""What codes on a paper say of its payment, by standards that are openly described."""
