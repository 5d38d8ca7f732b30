"""What a clip on the grip end logs of a round: recordings minutes apart; swings, putts and much else in them."""
