<?php

declare(strict_types=1);

namespace Geschenk\Tests\App\Http;

use Geschenk\App\Http\JsonAnswer;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class DirectionsTest extends TestCase
{
    /** @return iterable<string, array{string, string}> text, and how it is answered */
    public static function texts(): iterable
    {
        yield 'nothing to close' => ["مرحبا \u{200f}", "مرحبا \u{200f}"];
        yield 'an override left open' => ["\u{202e}76 %", "\u{202e}76 %\u{202c}"];
        yield 'closed already' => ["\u{202b}a\u{202c}b", "\u{202b}a\u{202c}b"];
        yield 'nested' => ["\u{2067}\u{202d}a", "\u{2067}\u{202d}a\u{202c}\u{2069}"];
        yield 'an isolate ends what is open within' => ["\u{2066}\u{202e}a\u{2069}b", "\u{2066}\u{202e}a\u{2069}b"];
        yield 'an embedding around an isolate goes on' => [
            "\u{202e}\u{2066}a\u{2069}b", "\u{202e}\u{2066}a\u{2069}b\u{202c}",
        ];
        yield 'the end of an embedding does not end an isolate' => [
            "\u{202e}\u{2066}a\u{202c}b", "\u{202e}\u{2066}ab\u{2069}\u{202c}",
        ];
        yield 'ends that close nothing' => ["a\u{2069}b\u{202c}c", 'abc'];
        yield 'a backslash that is text' => ['\\u202e and \\\\u2066', '\\u202e and \\\\u2066'];
        yield 'after a quote' => ["\"\u{202e}\"", "\"\u{202e}\"\u{202c}"];
    }

    #[DataProvider('texts')]
    public function testWhatATextOpensItCloses(string $text, string $closed): void
    {
        $answer = json_decode((string) (new JsonAnswer([$text => $text, 'next' => '76 %']))->getContent(), true);
        self::assertSame([$closed => $closed, 'next' => '76 %'], $answer);
    }

    public function testALargeAnswerIsAnsweredToo(): void
    {
        $large = str_repeat('é"\\', 300_000);
        $answer = json_decode((string) (new JsonAnswer([$large, "\u{202e}x", '76 %']))->getContent(), true);
        self::assertSame([$large, "\u{202e}x\u{202c}", '76 %'], $answer);
    }
}
