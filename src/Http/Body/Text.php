<?php

declare(strict_types=1);

namespace Geschenk\App\Http\Body;

use Symfony\Component\Validator\Constraint;
use Symfony\Component\Validator\Constraints\Compound;
use Symfony\Component\Validator\Constraints\Length;
use Symfony\Component\Validator\Constraints\NotBlank;

/** One line that somebody typed: there, and not too long. Nothing is cut in silence. */
#[\Attribute(\Attribute::TARGET_PROPERTY | \Attribute::TARGET_PARAMETER)]
final class Text extends Compound
{
    /** @param positive-int $longest characters */
    public function __construct(private readonly int $longest = 200)
    {
        parent::__construct();
    }

    /**
     * @param array<string, mixed> $options
     *
     * @return list<Constraint>
     */
    protected function getConstraints(array $options): array
    {
        return [new NotBlank(normalizer: 'trim'), new Length(max: $this->longest)];
    }
}
