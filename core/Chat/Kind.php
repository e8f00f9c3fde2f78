<?php

declare(strict_types=1);

namespace Geschenk\Core\Chat;

/** What a message is. `Unknown` stands for every kind that a reader has no word for; its raw code travels as opaque. */
enum Kind: string
{
    case Text = 'text';
    case Photo = 'photo';
    case Video = 'video';
    /** A recorded note, sound or film, that is shown in a round frame. */
    case RoundNote = 'round_note';
    case Voice = 'voice';
    case Audio = 'audio';
    case Document = 'document';
    case Sticker = 'sticker';
    case Animation = 'animation';
    case Place = 'place';
    case LivePlace = 'live_place';
    case ContactCard = 'contact_card';
    case Poll = 'poll';
    case Call = 'call';
    case CatalogueItem = 'catalogue_item';
    case Notice = 'notice';
    /** What is left of a message that its sender or an admin deleted. */
    case Deleted = 'deleted';
    case Unknown = 'unknown';
}
