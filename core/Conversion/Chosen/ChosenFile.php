<?php

declare(strict_types=1);

namespace Geschenk\Core\Conversion\Chosen;

use Geschenk\Core\Chat\Attachment;
use Geschenk\Core\Chat\Message;
use Geschenk\Core\Conversion\Choice;
use Geschenk\Core\Conversion\Outcome;
use Geschenk\Core\Conversion\Route;
use Geschenk\Core\Conversion\Rule\Touching;

/** A message with words of its own beside a file of a group that was left out: the words come, the file does not. */
final class ChosenFile extends Touching
{
    /** Only what there is can stay behind. */
    public const HAS_FILE = <<<'SQL'
        m.attachments IS NOT NULL AND EXISTS (SELECT 1 FROM attachment a WHERE a.message_id = m.message_id
            AND a.presence IN ('present', 'wrong_type'))
        SQL;

    public function name(): string
    {
        return 'chosen_file';
    }

    public function choices(): array
    {
        return [new Choice('without_file', Outcome::Changed)];
    }

    public function messages(Route $route): ?string
    {
        $kinds = ChosenGroup::kinds($route);

        return null === $kinds ? null
            : "m.kind IN ($kinds) AND ifnull(CAST(m.body AS BLOB), x'') <> x'' AND ".self::HAS_FILE;
    }

    public function changeMessage(Message $message, Choice $choice): Message
    {
        return $message->with(['attachments' => array_map(
            static fn (Attachment $a): Attachment => $a->presence->hasBytes() ? $a->leftBehind() : $a,
            $message->attachments,
        )]);
    }
}
