<?php

declare(strict_types=1);

namespace Geschenk\Standin\Demo;

use Geschenk\Core\Messenger\Otterpost\Otterpost;
use Geschenk\Core\Platform;

/** A made-up customer with the chats on their old phone. */
final readonly class Customer
{
    /**
     * @param string                                                             $number  E.164, from a range reserved
     * for fiction
     * @param non-empty-list<string>                                             $topics  what direct conversations are
     * about
     * @param list<array{title: string, topic: string, share: int, people: int}> $groups  share: parts of all messages
     * @param int                                                                $rooms   conversations in all
     * @param int                                                                $slips   messages in all, roughly
     * @param array{photo: int, voice: int, document: int}                       $mix     per thousand messages
     * @param string                                                             $motif   what the pictures show: hex,
     * boat or cake
     * @param string                                                             $edition of the messenger
     */
    public function __construct(
        public string $name,
        public string $number,
        public array $topics,
        public array $groups,
        public int $rooms,
        public int $slips,
        public array $mix,
        public string $motif,
        public int $firstYear,
        public bool $awkward = false,
        public string $edition = Otterpost::ORDINARY,
        public Platform $platform = Platform::Android,
    ) {
    }

    /** Id of the app that the chats are in. */
    public function app(): string
    {
        return Otterpost::COUNTER === $this->edition ? 'otterpost.counter' : 'otterpost';
    }

    public static function secretary(): self
    {
        return new self('Mathilda Oyelaran', '+447700900104', ['family', 'family', 'bees', 'bees_de', 'uk', 'el'], [
            [
                'title' => 'Harbour Beekeepers 1907', 'topic' => 'bees', 'share' => 26, 'people' => 34,
            ], ['title' => 'Committee', 'topic' => 'bees', 'share' => 12, 'people' => 7],
            ['title' => 'Swarm alarm 🐝', 'topic' => 'bees', 'share' => 9, 'people' => 22], [
                'title' => 'Imkerkurs Anfänger', 'topic' => 'bees_de', 'share' => 5, 'people' => 14,
            ],
            [
                'title' => 'Oyelarans & co', 'topic' => 'family', 'share' => 8, 'people' => 9,
            ], ['title' => 'Honey show', 'topic' => 'bees', 'share' => 3, 'people' => 11],
            ['title' => 'Extractor rota', 'topic' => 'bees', 'share' => 3, 'people' => 6], [
                'title' => 'Allotment 14–22', 'topic' => 'family', 'share' => 2, 'people' => 8,
            ],
            ['title' => 'عائلة العسل', 'topic' => 'ar', 'share' => 2, 'people' => 5], [
                'title' => 'Book group (we do read)', 'topic' => 'family', 'share' => 2, 'people' => 6,
            ],
        ], 80, 20_000, ['photo' => 62, 'voice' => 28, 'document' => 12], 'hex', 2019, true);
    }

    public static function skipper(): self
    {
        return new self('Ragnvald Tveit', '+447700900217', ['ferry', 'family', 'ferry'], [
            ['title' => 'MF Solvåg crew', 'topic' => 'ferry', 'share' => 30, 'people' => 8], [
                'title' => 'Harbour & pilots', 'topic' => 'ferry', 'share' => 14, 'people' => 16,
            ],
            ['title' => 'Sunday coffee', 'topic' => 'family', 'share' => 9, 'people' => 5],
        ], 31, 3_200, ['photo' => 70, 'voice' => 160, 'document' => 8], 'boat', 2020);
    }

    /** Beside her bakery the baker has a life: both are on one phone, each with its own app and number. */
    public static function baker(): self
    {
        return new self('Ines Carvalhal', '+447700900361', ['family', 'cake', 'family'], [
            ['title' => 'Carvalhal cousins', 'topic' => 'family', 'share' => 24, 'people' => 8],
            ['title' => 'Sea swimmers', 'topic' => 'ferry', 'share' => 14, 'people' => 5],
        ], 17, 840, ['photo' => 90, 'voice' => 30, 'document' => 6], 'boat', 2021);
    }

    public static function bakery(): self
    {
        return new self('Ines Carvalhal', '+447700900358', ['cake', 'family', 'cake'], [
            [
                'title' => 'Saturday deliveries', 'topic' => 'cake', 'share' => 22, 'people' => 6,
            ], ['title' => 'Flour, sugar, Ines', 'topic' => 'cake', 'share' => 16, 'people' => 4],
        ], 26, 1_900, ['photo' => 140, 'voice' => 22, 'document' => 30], 'cake', 2022, edition: Otterpost::COUNTER);
    }

    public static function conductor(): self
    {
        return new self('Yusuke Amari', '+447700900466', ['choir', 'ja', 'choir', 'family'], [
            [
                'title' => 'St Olave’s Choir', 'topic' => 'choir', 'share' => 34, 'people' => 28,
            ], ['title' => 'Altos', 'topic' => 'choir', 'share' => 8, 'people' => 9],
        ], 22, 1_500, ['photo' => 40, 'voice' => 90, 'document' => 25], 'cake', 2021);
    }

    public static function keeper(): self
    {
        return new self('Oddný Hallsdóttir', '+447700900581', ['family', 'ferry', 'bees_de'], [
            [
                'title' => 'Lighthouse museum', 'topic' => 'ferry', 'share' => 30, 'people' => 9,
            ], ['title' => 'Volunteers', 'topic' => 'family', 'share' => 20, 'people' => 12],
        ], 18, 1_100, ['photo' => 90, 'voice' => 40, 'document' => 20], 'boat', 2021, platform: Platform::Ios);
    }

    /** Whose phone gives its chats out in a sealed backup only. */
    public static function netmaker(): self
    {
        return new self('Eilidh Strand', '+447700900693', ['family', 'ferry', 'uk'], [
            ['title' => 'Nets & floats', 'topic' => 'ferry', 'share' => 28, 'people' => 7], [
                'title' => 'Strand sisters', 'topic' => 'family', 'share' => 18, 'people' => 4,
            ],
        ], 14, 620, ['photo' => 80, 'voice' => 30, 'document' => 12], 'boat', 2023);
    }

    /** Whose phone is gone, and whose computer had backed it up. */
    public static function ferrywoman(): self
    {
        return new self('Maren Holthe', '+447700900734', ['ferry', 'family'], [
            ['title' => 'Holthes on both shores', 'topic' => 'family', 'share' => 26, 'people' => 7],
            ['title' => 'Rowing on Thursdays', 'topic' => 'ferry', 'share' => 18, 'people' => 5],
        ], 12, 540, ['photo' => 80, 'voice' => 40, 'document' => 8], 'boat', 2022, platform: Platform::Ios);
    }

    /** The same one's small business, on the same phone. */
    public static function ferry(): self
    {
        return new self(
            'Maren Holthe', '+447700900738', ['ferry', 'cake'],
            [['title' => 'Crossings & parcels', 'topic' => 'ferry', 'share' => 40, 'people' => 6]], 9, 260,
            ['photo' => 50, 'voice' => 10, 'document' => 30], 'boat', 2024, edition: Otterpost::COUNTER,
            platform: Platform::Ios,
        );
    }

    /** The week that the conductor has already spent with the new phone. */
    public static function conductorsFirstWeek(): self
    {
        return new self(
            'Yusuke Amari', '+447700900466', ['choir', 'family'],
            [['title' => 'St Olave’s Choir', 'topic' => 'choir', 'share' => 50, 'people' => 12]], 5, 64,
            ['photo' => 40, 'voice' => 0, 'document' => 0], 'cake', 2026, platform: Platform::Ios,
        );
    }
}
