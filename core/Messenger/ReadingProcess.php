<?php

declare(strict_types=1);

namespace Geschenk\Core\Messenger;

use Geschenk\Core\Chat\Presence;
use Geschenk\Core\Files\Content\AttachmentFiles;
use Geschenk\Core\Files\Content\PutsCopies;
use Geschenk\Core\Files\Durable\DiskFull;
use Geschenk\Core\Files\Locked\ContentKey;
use Geschenk\Core\Progress;
use Geschenk\Core\UnusableInput;

/** The process that reads: gets its order as the first line, asks for attachments, tells how far it is. */
final class ReadingProcess implements AttachmentFiles, Progress
{
    use PutsCopies;

    private const MOST_OPENED = 16_777_216;
    private const INTERVAL = 0.1;

    private int $items = 0;
    private int $bytes = 0;
    private float $told = 0.0;

    /**
     * @param resource $orders
     * @param resource $answers
     */
    public function __construct(
        private readonly mixed $orders,
        private readonly mixed $answers,
        private readonly Formats $formats = new Formats(),
    ) {
    }

    /** @return int exit code */
    public function run(): int
    {
        $order = $this->hear();
        $text = static fn (string $key): string => is_string($order[$key] ?? null) ? $order[$key] : '';
        $key = static fn (): ?BackupKey => isset($order['key'])
            ? BackupKey::of((string) base64_decode($text('key'), true))
            : null;
        ReadingLimits::of(is_array($order['limits'] ?? null) ? $order['limits'] : [])->impose();
        $name = is_string($order['name'] ?? null) ? $order['name'] : null;
        $reading = new ReadingHere($this->formats);
        try {
            $format = null;
            switch ($text('act')) {
                case 'read':
                    $format = $reading->read($text('folder'), $this, $text('store'), $this, $name);
                    break;
                case 'unpack':
                    $reading->unpack($text('path'), $key(), $text('folder'), $name);
                    break;
                case 'list_phone':
                    $reading->listPhone($text('folder'), $key(), $text('list'), $this, $name);
                    break;
                case 'unzip':
                    $reading->unzip($text('path'), $key()?->told, $text('folder'), $this, $name);
                    break;
                case 'take_over':
                    $reading->takeOver($text('path'), $text('store'), $this, $name);
                    break;
                default:
                    throw new \LogicException('There is no such work.');
            }
            $this->tell();
            $this->say(['say' => 'done', 'format' => null === $format ? null : $format::class]);

            return 0;
        } catch (UnusableInput $unusable) {
            $fields = json_encode($unusable->fields, \JSON_THROW_ON_ERROR | \JSON_INVALID_UTF8_SUBSTITUTE);
            $this->say([
                'say' => 'unusable', 'reason' => base64_encode($unusable->reason), 'fields' => base64_encode($fields),
            ]);
        } catch (\Throwable $error) {
            $isFull = DiskFull::isMeantBy($error);
            $path = $error instanceof DiskFull ? (string) ($error->fields['path'] ?? '') : $text('store');
            $told = sprintf(
                '%s: %s in %s line %d',
                $error::class, $error->getMessage(), basename($error->getFile()), $error->getLine(),
            );
            $this->say([
                'say' => $isFull ? 'disk_full' : 'failed',
                'path' => base64_encode($path), 'message' => base64_encode($told),
            ]);
        }

        return 1;
    }

    public function look(string $path, string $mediaType, ?ContentKey $key = null): array
    {
        $this->say([
            'say' => 'look', 'path' => base64_encode($path), 'type' => base64_encode($mediaType), ...self::told($key),
        ]);
        $answer = $this->hear();

        return [
            'presence' => Presence::from(is_string($answer['presence'] ?? null) ? $answer['presence'] : ''),
            'bytes' => is_int($answer['bytes'] ?? null) ? $answer['bytes'] : 0,
            'sha256' => is_string($answer['sha256'] ?? null) ? $answer['sha256'] : null,
        ];
    }

    public function open(string $path, ?ContentKey $key = null): mixed
    {
        $this->say([
            'say' => 'open', 'path' => base64_encode($path), 'most' => self::MOST_OPENED, ...self::told($key),
        ]);
        $bytes = $this->hear()['bytes'] ?? null;
        $stream = is_string($bytes) ? fopen('php://memory', 'w+') : false;
        if (false === $stream) {
            return null;
        }
        fwrite($stream, (string) base64_decode((string) $bytes, true));
        rewind($stream);

        return $stream;
    }

    /** @return array<string, string> */
    private static function told(?ContentKey $key): array
    {
        return null === $key ? [] : ['cipher' => $key->cipher->value, 'key' => base64_encode($key->bytes)];
    }

    public function phase(string $name, int $items = 0, int $bytes = 0): void
    {
        $this->tell();
        $this->say(['say' => 'phase', 'name' => base64_encode($name), 'items' => $items, 'bytes' => $bytes]);
    }

    public function advance(int $items, int $bytes = 0): void
    {
        $this->items += $items;
        $this->bytes += $bytes;
        if (microtime(true) - $this->told >= self::INTERVAL) {
            $this->tell();
        }
    }

    private function tell(): void
    {
        if ($this->items > 0 || $this->bytes > 0) {
            $this->say(['say' => 'advance', 'items' => $this->items, 'bytes' => $this->bytes]);
        }
        $this->items = $this->bytes = 0;
        $this->told = microtime(true);
    }

    /** @param array<string, mixed> $line */
    private function say(array $line): void
    {
        fwrite($this->answers, json_encode($line, \JSON_THROW_ON_ERROR)."\n");
    }

    /** @return array<array-key, mixed> */
    private function hear(): array
    {
        $line = fgets($this->orders);
        $heard = false === $line ? null : json_decode($line, true, 8);

        return is_array($heard) ? $heard : throw new \RuntimeException('Whoever asked for the reading is gone.');
    }
}
