<?xml version="1.0" encoding="utf-8"?>
<!DOCTYPE TS>
<TS version="2.1" language="en" sourcelanguage="en">
<context>
    <name>Facts</name>
    <message numerus="yes">
        <source>%n frame(s)</source>
        <translation>
            <numerusform>%n frame</numerusform>
            <numerusform>%n frames</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>and %n more clip(s)</source>
        <translation>
            <numerusform>and %n more clip</numerusform>
            <numerusform>and %n more clips</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n vertices</source>
        <translation>
            <numerusform>%n vertex</numerusform>
            <numerusform>%n vertices</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>and %n more mesh(es)</source>
        <translation>
            <numerusform>and %n more mesh</numerusform>
            <numerusform>and %n more meshes</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n joint(s), up to %1 per vertex</source>
        <translation>
            <numerusform>%n joint, up to %1 per vertex</numerusform>
            <numerusform>%n joints, up to %1 per vertex</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>Findings</name>
    <message numerus="yes">
        <source>Cross-fade %n frame(s)</source>
        <translation>
            <numerusform>Cross-fade %n frame</numerusform>
            <numerusform>Cross-fade %n frames</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n frame(s)</source>
        <translation>
            <numerusform>%n frame</numerusform>
            <numerusform>%n frames</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n clip(s)</source>
        <translation>
            <numerusform>%n clip</numerusform>
            <numerusform>%n clips</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n
vertices</source>
        <translation>
            <numerusform>%n
vertex</numerusform>
            <numerusform>%n
vertices</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n triangle(s) face away from their normals, by up to %1° at turn %2. Push along a direction instead of the normal, make waves longer, or lower the amplitude.</source>
        <translation>
            <numerusform>%n triangle faces away from its normal, by up to %1° at turn %2. Push along a direction instead of the normal, make waves longer, or lower the amplitude.</numerusform>
            <numerusform>%n triangles face away from their normals, by up to %1° at turn %2. Push along a direction instead of the normal, make waves longer, or lower the amplitude.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n voice(s),
loop closes</source>
        <translation>
            <numerusform>%n voice,
loop closes</numerusform>
            <numerusform>%n voices,
loop closes</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n
copies</source>
        <translation>
            <numerusform>%n
copy</numerusform>
            <numerusform>%n
copies</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n level(s)
of detail</source>
        <translation>
            <numerusform>%n level
of detail</numerusform>
            <numerusform>%n levels
of detail</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>Looks</name>
    <message numerus="yes">
        <source>UV set %1 of %n (counted from 0)</source>
        <translation>
            <numerusform>UV set %1 of %n (counted from 0)</numerusform>
            <numerusform>UV set %1 of %n (counted from 0)</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>Voices</name>
    <message numerus="yes">
        <source>%n turn(s) per loop, backward</source>
        <translation>
            <numerusform>%n turn per loop, backward</numerusform>
            <numerusform>%n turns per loop, backward</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n turn(s) per loop</source>
        <translation>
            <numerusform>%n turn per loop</numerusform>
            <numerusform>%n turns per loop</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::BakePanel</name>
    <message numerus="yes">
        <source>Keep every %n frame(s)</source>
        <translation>
            <numerusform>Keep every frame</numerusform>
            <numerusform>Keep every %n frames</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Cross-fade over %n frame(s)</source>
        <translation>
            <numerusform>Cross-fade over %n frame</numerusform>
            <numerusform>Cross-fade over %n frames</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Store %n shared shape(s)</source>
        <translation>
            <numerusform>Store %n shared shape</numerusform>
            <numerusform>Store %n shared shapes</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Add clips from %n file(s)</source>
        <translation>
            <numerusform>Add clips from %n file</numerusform>
            <numerusform>Add clips from %n files</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Store %n frame(s) for each sample</source>
        <translation>
            <numerusform>Store %n frame for each sample</numerusform>
            <numerusform>Store %n frames for each sample</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::ClipRows</name>
    <message numerus="yes">
        <source>%n frame(s), closed</source>
        <translation>
            <numerusform>%n frame, closed</numerusform>
            <numerusform>%n frames, closed</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n frame(s), open</source>
        <translation>
            <numerusform>%n frame, open</numerusform>
            <numerusform>%n frames, open</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::CodePage</name>
    <message numerus="yes">
        <source>%n texel(s) read</source>
        <translation>
            <numerusform>%n texel read</numerusform>
            <numerusform>%n texels read</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n instruction(s) a vertex</source>
        <translation>
            <numerusform>%n instruction a vertex</numerusform>
            <numerusform>%n instructions a vertex</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::CostBox</name>
    <message numerus="yes">
        <source>%n texture(s), %1 texels
%2 on disk with mesh</source>
        <translation>
            <numerusform>%n texture, %1 texels
%2 on disk with mesh</numerusform>
            <numerusform>%n textures, %1 texels
%2 on disk with mesh</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::CostPage</name>
    <message numerus="yes">
        <source>%n instruction(s)</source>
        <translation>
            <numerusform>%n instruction</numerusform>
            <numerusform>%n instructions</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n instruction(s), loops counted: %1</source>
        <translation>
            <numerusform>%n instruction, loops counted: %1</numerusform>
            <numerusform>%n instructions, loops counted: %1</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n more instruction(s)</source>
        <translation>
            <numerusform>%n more instruction</numerusform>
            <numerusform>%n more instructions</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n number(s)</source>
        <translation>
            <numerusform>%n number</numerusform>
            <numerusform>%n numbers</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%1 instructions a picture, hands on %n more number(s)</source>
        <translation>
            <numerusform>%1 instructions a picture, hands on %n more number</numerusform>
            <numerusform>%1 instructions a picture, hands on %n more numbers</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>After %n hour(s)</source>
        <translation>
            <numerusform>After %n hour</numerusform>
            <numerusform>After %n hours</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::Dial</name>
    <message numerus="yes">
        <source>%1, %n frame(s), closed</source>
        <translation>
            <numerusform>%1, %n frame, closed</numerusform>
            <numerusform>%1, %n frames, closed</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%1, %n frame(s), open</source>
        <translation>
            <numerusform>%1, %n frame, open</numerusform>
            <numerusform>%1, %n frames, open</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n more voice(s)</source>
        <translation>
            <numerusform>%n more voice</numerusform>
            <numerusform>%n more voices</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n copies</source>
        <translation>
            <numerusform>%n copy</numerusform>
            <numerusform>%n copies</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::ErrorsPage</name>
    <message numerus="yes">
        <source>Keep every %n frame(s)</source>
        <translation>
            <numerusform>Keep every frame</numerusform>
            <numerusform>Keep every %n frames</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::GatherBench</name>
    <message numerus="yes">
        <source>%n vertices</source>
        <translation>
            <numerusform>%n vertex</numerusform>
            <numerusform>%n vertices</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n triangle(s)</source>
        <translation>
            <numerusform>%n triangle</numerusform>
            <numerusform>%n triangles</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::LikenessPage</name>
    <message numerus="yes">
        <source>%n frame(s)</source>
        <translation>
            <numerusform>%n frame</numerusform>
            <numerusform>%n frames</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::RehearsalPage</name>
    <message numerus="yes">
        <source>%n fault(s) can&apos;t happen to this bundle.</source>
        <translation>
            <numerusform>%n fault can&apos;t happen to this bundle.</numerusform>
            <numerusform>%n faults can&apos;t happen to this bundle.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::ScatterPanel</name>
    <message numerus="yes">
        <source>%n level(s) of detail</source>
        <translation>
            <numerusform>%n level of detail</numerusform>
            <numerusform>%n levels of detail</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::ShipBench</name>
    <message numerus="yes">
        <source>%n frame(s), closed, seam gap %1</source>
        <translation>
            <numerusform>%n frame, closed, seam gap %1</numerusform>
            <numerusform>%n frames, closed, seam gap %1</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n frame(s), open, seam gap %1</source>
        <translation>
            <numerusform>%n frame, open, seam gap %1</numerusform>
            <numerusform>%n frames, open, seam gap %1</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::Stage</name>
    <message numerus="yes">
        <source>%n copies</source>
        <translation>
            <numerusform>%n copy</numerusform>
            <numerusform>%n copies</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::TextureSheet</name>
    <message numerus="yes">
        <source>piece %1, %n vertices from %2</source>
        <translation>
            <numerusform>piece %1, %n vertex from %2</numerusform>
            <numerusform>piece %1, %n vertices from %2</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>vertex %1 and %n alike</source>
        <translation>
            <numerusform>vertex %1 and %n alike</numerusform>
            <numerusform>vertex %1 and %n alike</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%1 × %2 texels. Across: vertices. Down: shapes of %n row(s).</source>
        <translation>
            <numerusform>%1 × %2 texels. Across: vertices. Down: shapes of %n row.</numerusform>
            <numerusform>%1 × %2 texels. Across: vertices. Down: shapes of %n rows.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%1 × %2 texels. Across: pieces. Down: frames of %n row(s).</source>
        <translation>
            <numerusform>%1 × %2 texels. Across: pieces. Down: frames of %n row.</numerusform>
            <numerusform>%1 × %2 texels. Across: pieces. Down: frames of %n rows.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%1 × %2 texels. Across: vertices. Down: frames of %n row(s).</source>
        <translation>
            <numerusform>%1 × %2 texels. Across: vertices. Down: frames of %n row.</numerusform>
            <numerusform>%1 × %2 texels. Across: vertices. Down: frames of %n rows.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>ripple::app::TimeCard</name>
    <message numerus="yes">
        <source>%n frame(s) at %1 per second, from first to last %2</source>
        <translation>
            <numerusform>%n frame at %1 per second, from first to last %2</numerusform>
            <numerusform>%n frames at %1 per second, from first to last %2</numerusform>
        </translation>
    </message>
</context>
</TS>
