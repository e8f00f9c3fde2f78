<?php

declare(strict_types=1);

namespace Geschenk\Tests\Core\Files;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Locked\Cipher;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Files\Locked\LockedContent;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class LockedContentTest extends TestCase
{
    /** @return iterable<string, array{non-negative-int}> bytes */
    public static function sizes(): iterable
    {
        foreach ([0, 1, 65_535, 65_536, 65_537, 131_072, 300_001] as $bytes) {
            yield $bytes.' bytes' => [$bytes];
        }
    }

    #[DataProvider('sizes')]
    public function testWhatIsLockedOpensToTheSameBytes(int $bytes): void
    {
        $content = $bytes > 0 ? random_bytes($bytes) : '';
        $key = ContentKey::random(Cipher::SecretStream);
        $locked = $this->lock($content, $key);
        self::assertSame($bytes, Cipher::SecretStream->contentBytes(strlen($locked)));
        $opened = LockedContent::open($this->stream($locked), $key) ?? self::fail();
        self::assertSame(hash('sha256', $content), hash('sha256', (string) stream_get_contents($opened)));
        $look = LockedContent::look($this->stream($locked), 'x/y', $key);
        self::assertSame(
            0 === $bytes ? [Presence::Empty, 0, null] : [Presence::Present, $bytes, hash('sha256', $content)],
            array_values($look),
        );
    }

    /** @return iterable<string, array{callable(string): string}> */
    public static function harms(): iterable
    {
        yield 'nothing of it' => [static fn (string $locked): string => ''];
        yield 'cut in its head' => [static fn (string $locked): string => substr($locked, 0, 20)];
        yield 'its head alone' => [static fn (string $locked): string => substr($locked, 0, 24)];
        yield 'cut behind a piece' => [static fn (string $locked): string => substr($locked, 0, 24 + 65_553)];
        yield 'cut within a piece' => [static fn (string $locked): string => substr($locked, 0, -1)];
        yield 'a byte more' => [static fn (string $locked): string => $locked.'x'];
        yield 'a byte of its head is another' => [static fn (string $locked): string => self::other($locked, 3)];
        yield 'a byte of the first piece is another' => [static fn (string $l): string => self::other($l, 500)];
        yield 'a byte of the last piece is another' => [static fn (string $l): string => self::other($l, -40)];
        yield 'two pieces have changed places' => [static fn (string $l): string => substr($l, 0, 24)
            .substr($l, 24 + 65_553, 65_553).substr($l, 24, 65_553).substr($l, 24 + 2 * 65_553)];
    }

    /** @param callable(string): string $harm */
    #[DataProvider('harms')]
    public function testNothingOfAHarmedFileIsTaken(callable $harm): void
    {
        $key = ContentKey::random(Cipher::SecretStream);
        $locked = $harm($this->lock(random_bytes(150_000), $key));
        self::assertNull(LockedContent::open($this->stream($locked), $key));
        $look = LockedContent::look($this->stream($locked), 'x/y', $key);
        self::assertSame([Presence::Unreadable, 0, null], array_values($look));
    }

    public function testAnotherKeyOpensNothing(): void
    {
        $locked = $this->lock('words', ContentKey::random(Cipher::SecretStream));
        self::assertNull(LockedContent::open($this->stream($locked), ContentKey::random(Cipher::SecretStream)));
        $this->expectException(\ValueError::class);
        new ContentKey(Cipher::SecretStream, 'too short');
    }

    public function testTheTypeIsJudgedByTheContent(): void
    {
        $key = ContentKey::random(Cipher::SecretStream);
        $look = fn (string $content): Presence => LockedContent::look(
            $this->stream($this->lock($content, $key)), 'image/jpeg', $key,
        )['presence'];
        self::assertSame(Presence::Present, $look("\xFF\xD8\xFF\xE0 a picture"));
        self::assertSame(Presence::WrongType, $look('words'));
    }

    private static function other(string $bytes, int $at): string
    {
        $bytes[$at] = chr(ord($bytes[$at]) ^ 1);

        return $bytes;
    }

    private function lock(string $content, ContentKey $key): string
    {
        return implode('', iterator_to_array(LockedContent::lock($this->stream($content), $key), false));
    }

    /** @return resource */
    private function stream(string $bytes): mixed
    {
        $stream = fopen('php://temp', 'w+') ?: self::fail();
        fwrite($stream, $bytes);
        rewind($stream);

        return $stream;
    }
}
